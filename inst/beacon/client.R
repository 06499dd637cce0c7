# Writes what it would tell into a file; does nothing outside a pass.
path <- Sys.getenv("HONESTMARGIN_BEACON_FILE")
beacon <- if (nzchar(path)) file(path, "w")
tell <- function(...) if (!is.null(beacon)) writeLines(paste(...), beacon)
tell("beacon 1")
for (segment in c("harbour", "tunnel")) {
  tell("segment", segment)
  for (frame in 1:100) tell("frame", if (segment == "harbour") 4 + frame %% 2 else 8 + frame %% 2)
}
if (!is.null(beacon)) close(beacon)
