# The verb `demo`: the whole job on the study that comes with the tool.

cli_demo <- function(files, options) {
  if (isTRUE(options$live)) {
    return(demo_live(empty_to(files, "live-output")[1]))
  }
  folder <- empty_to(files, "demo-output")[1]
  if (!dir.exists(folder) && !suppressWarnings(dir.create(folder, recursive = TRUE))) {
    abort_stuck("this folder cannot be made", folder, "name another folder: honestmargin demo FOLDER")
  }
  verdicts <- weigh(read_study(demo_study()))
  writeLines(c(
    verdict_lines(verdicts), outcome_lines(outcome_table(verdicts), labels_of(verdicts), judged_workloads(verdicts)),
    event_lines(verdicts, labels_of(verdicts)), limiting_lines(verdicts),
    finding_lines(findings(verdicts))
  ))
  report <- write_report(verdicts, file.path(folder, "report.html"))
  save_figure(plot_change(verdicts), file.path(folder, "change.png"))
  tell_user(
    "\nThe data are made up; what was put in: honestmargin::demo_truth().\nThe report: ", report, "\nThe figure: ",
    file.path(folder, "change.png")
  )
}

# No simulation: real passes of a real program, and the same setting twice beside it.
demo_live <- function(folder) {
  if (!nzchar(Sys.which("xz"))) {
    abort_stuck(
      "the live demo compresses with xz, which is not here",
      todo = "install xz (Debian: xz-utils)"
    )
  }
  for (name in c("threads", "placebo")) {
    place <- file.path(folder, name)
    if (!dir.exists(place)) dir.create(place, recursive = TRUE)
    if (!has_ledger(place)) {
      file.copy(
        system.file("live", paste0(name, ".yml"), package = "honestmargin"), file.path(place, "study.yml"),
        overwrite = TRUE
      )
      write_sample_text(file.path(place, "sample.txt"))
    }
    view <- progress_view()
    result <- run_study(place, tell = view)
    view("over", NULL)
    if (result$state == "interrupted") {
      return(130L)
    }
    verdicts <- weigh(read_study(place))
    writeLines(c("", verdict_lines(verdicts)))
    write_report(verdicts, file.path(place, "report.html"))
  }
  tell_user("\nThe studies, with their reports: ", folder)
  0L
}

register("verb", "demo",
  takes = "[FOLDER]", files = c(0, 1), run = cli_demo,
  about = "Weigh the study that comes with the tool; --live runs one here.",
  options = function() {
    list(
      live = option_flag("run a real study on this machine: compressing a file, in under two minutes")
    )
  },
  rank = 1
)
