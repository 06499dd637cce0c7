# Puts the package's own library and the helpers of a pass (Linux) in their places.
libs <- file.path(R_PACKAGE_DIR, paste0("libs", R_ARCH))
dir.create(libs, recursive = TRUE, showWarnings = FALSE)
file.copy(Sys.glob(paste0("*", SHLIB_EXT)), libs, overwrite = TRUE)
made <- file.path("helpers", c("probe.so", "recorder"))
made <- made[file.exists(made)]
if (length(made)) {
  helpers <- file.path(R_PACKAGE_DIR, "helpers")
  dir.create(helpers, recursive = TRUE, showWarnings = FALSE)
  file.copy(c(made, file.path("helpers", "probe_layer.json")), helpers, overwrite = TRUE, copy.mode = TRUE)
}
