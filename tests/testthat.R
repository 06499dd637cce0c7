library(testthat)
library(honestmargin)
test_check("honestmargin")
