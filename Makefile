doc-only:
	Rscript -e 'Rcpp::compileAttributes(".")' -e 'suppressMessages(roxygen2::roxygenise("."))'
