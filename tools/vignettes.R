# Puts the vignettes into the installed package, where rmarkdown and pandoc are there, unless they are there already.
lib <- dirname(find.package("honestmargin"))
sources <- list.files("vignettes", "[.]Rmd$", full.names = TRUE)
state <- c(unname(tools::md5sum(c(sources, "inst/extdata/calibration.csv"))), lib)
stamp <- file.path(lib, "honestmargin", "vignettes-from")
if (file.exists(stamp) && identical(readLines(stamp), state)) quit()
if (!requireNamespace("rmarkdown", quietly = TRUE) || !rmarkdown::pandoc_available()) {
  cat("setup: vignettes are built where rmarkdown and pandoc are; they can be read in vignettes/\n")
  quit()
}
cat("setup: building the vignettes\n")
to <- file.path(lib, "honestmargin", "doc")
dir.create(to, showWarnings = FALSE)
title <- vapply(sources, function(path) {
  line <- grep("VignetteIndexEntry", readLines(path), value = TRUE)
  sub("^.*VignetteIndexEntry[{](.*)[}].*$", "\\1", line)
}, "", USE.NAMES = FALSE)
for (path in sources) rmarkdown::render(path, output_dir = to, intermediates_dir = tempdir(), quiet = TRUE)
file.copy(sources, to, overwrite = TRUE)
name <- sub("[.]Rmd$", "", basename(sources))
index <- data.frame(File = basename(sources), Title = title, PDF = paste0(name, ".html"), R = "")
index$Depends <- index$Keywords <- rep(list(character()), nrow(index))
saveRDS(index, file.path(lib, "honestmargin", "Meta", "vignette.rds"))
writeLines(state, stamp)
