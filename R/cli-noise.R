# The verb `noise`: what is remembered, to see, to take along, to forget.

cli_noise <- function(files, options) {
  machine <- if (isTRUE(options$here)) machine_key(machine_snapshot()) else options$machine
  if (!is.null(options$forget)) {
    what <- one_word(options$forget, "forget", c("all", "these"), NULL)
    if (what == "these" && is.null(machine) && is.null(options$workload)) {
      abort_needed("which?", todo = "--forget these needs --machine or --workload; everything: --forget all")
    }
    n <- if (what == "all") forget_noise() else forget_noise(machine, options$workload)
    return(tell_user("forgotten: ", count_of(n, "row")))
  }
  rows <- noise_memory(machine, split_list(options$workload))
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  if (!is.null(options$file)) {
    write_whole(options$file, function(to) writeLines(csv_lines(memory_as_noise(rows)), to))
    return(tell_user("written: ", options$file))
  }
  switch(format,
    csv = writeLines(csv_lines(rows)),
    json = writeLines(json_text(noise = rows, version = package_version_text())),
    table = writeLines(memory_lines(rows))
  )
  0L
}

memory_lines <- function(rows) {
  if (!nrow(rows)) {
    return("Nothing is remembered.")
  }
  pooled <- stack_rows(lapply(split(rows, factor(rows$machine, unique(rows$machine))), function(r) {
    cbind(machine = paste0(r$machine[1], " (", r$label[1], ")"), pool_noise(r))
  }))
  boots <- vapply(split_rows(pooled[c("boots", "scale")]), function(v) {
    if (is.na(v$boots)) "" else show_noise(list(noise = v$boots, scale = v$scale))
  }, "")
  c(
    table_lines(data.frame(
      machine = pooled$machine, workload = pooled$workload, metric = pooled$metric,
      noise = vapply(split_rows(pooled[c("noise", "scale")]), show_noise, ""), boots = boots,
      df = show_number(pooled$df, 2), studies = pooled$studies, last = pooled$last
    ), c("noise", "boots", "df", "studies"), whole = "last", group = c("machine", "workload")), "",
    fold(paste(
      "noise: how much one pass moves by itself, block and day included. boots: what each start adds. df:",
      "degrees of freedom, fewer where studies",
      "differ. Lies in", noise_path()
    ), rest = "")
  )
}

register("verb", "noise",
  takes = "", files = c(0, 0), run = cli_noise,
  examples = c(
    "noise",
    "noise --format csv"
  ),
  about = "The noise that finished studies left: see, export, forget.",
  options = function() {
    c(list(
      machine = option_text("KEY", "only of this machine"),
      here = option_flag("only of this machine, the one it runs on"),
      forget = option_text("WHAT", "all, or these (with --machine or --workload)")
    ), shared_options("workload", "file", "format"))
  },
  rank = 17.8
)
