# Puts the package's own library in its place, and builds the helpers of a pass (Linux)
# beside it: nothing of theirs is left among the sources.
libs <- file.path(R_PACKAGE_DIR, paste0("libs", R_ARCH))
dir.create(libs, recursive = TRUE, showWarnings = FALSE)
own <- Sys.glob(paste0("*", SHLIB_EXT))
file.copy(own, libs, overwrite = TRUE)
# what only a debugger reads is nine tenths of it
if (identical(Sys.info()[["sysname"]], "Linux") && nzchar(Sys.which("strip"))) {
  system2("strip", c("--strip-debug", shQuote(file.path(libs, own))))
}
if (file.exists("symbols.rds")) file.copy("symbols.rds", libs, overwrite = TRUE)
if (identical(Sys.info()[["sysname"]], "Linux")) {
  helpers <- file.path(R_PACKAGE_DIR, "helpers")
  dir.create(helpers, recursive = TRUE, showWarnings = FALSE)
  compiler <- system2(file.path(R.home("bin"), "R"), c("CMD", "config", "CC"), stdout = TRUE)
  built <- system2("sh", c("helpers/build.sh", shQuote(compiler), shQuote(normalizePath(helpers))))
  # without them studies still run; what needs them says so
  if (built != 0) message("the frame probe and the recorder could not be built")
  file.copy(file.path("helpers", "probe_layer.json"), helpers, overwrite = TRUE)
}
