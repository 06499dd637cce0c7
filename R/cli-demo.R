# The verb `demo`: the whole job on the study that comes with the tool.

cli_demo <- function(files, options) {
  if (isTRUE(options$live)) {
    return(demo_live(empty_to(files, "live-output")[1]))
  }
  if (isTRUE(options$search)) {
    return(demo_search(empty_to(files, "search-output")[1]))
  }
  folder <- empty_to(files, "demo-output")[1]
  if (!dir.exists(folder) && !suppressWarnings(dir.create(folder, recursive = TRUE))) {
    abort_stuck("this folder cannot be made", folder, "name another folder: honestmargin demo FOLDER")
  }
  verdicts <- weigh(read_study(demo_study()))
  writeLines(verdict_lines(verdicts, commands = weigh_again(folder)))
  # the study itself too, so that every other verb can be tried on it
  if (!file.exists(file.path(folder, "study.yml"))) {
    file.copy(list.files(demo_study(), full.names = TRUE), folder, recursive = TRUE)
  }
  report <- write_report(verdicts, file.path(folder, "report.html"))
  save_figure(plot_change(verdicts), file.path(folder, "change.png"))
  tell_user(
    "\nThe data are made up; what was put in: honestmargin::demo_truth().\nThe report: ", report, "\nThe figure: ",
    file.path(folder, "change.png"), "\nThe study, for any other verb: honestmargin check ", folder,
    "\nIn a browser: honestmargin open ", folder
  )
}

weigh_again <- function(folder) list(again = c("weigh", folder), firm = c("ask", folder, "firm"))

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
    writeLines(c("", verdict_lines(verdicts, commands = weigh_again(place))))
    write_report(verdicts, file.path(place, "report.html"))
  }
  tell_user("\nThe studies, with their reports: ", folder)
  0L
}

# A made-up motor that goes down: the runner is killed with it, and started again as after a reboot.
demo_search <- function(folder) {
  if (!dir.exists(folder)) dir.create(folder, recursive = TRUE)
  place_winch(folder)
  repeat {
    boot <- readLines(file.path(folder, "winch.boot"))[1]
    done <- processx::run(file.path(R.home("bin"), "Rscript"), c("-e", "honestmargin::main()", "run", folder),
      error_on_status = FALSE, stdout = "", stderr = "", env = environment_with(c(HONESTMARGIN_BOOT = boot))
    )
    if (done$status == 0) break
    if (done$status != -9) {
      return(abs(done$status))
    }
    tell_user("... the motor took its machine down, and the runner with it; starting again")
  }
  search <- read_search(folder)
  writeLines("")
  print(search)
  verdicts <- weigh(read_study(folder))
  writeLines(c("", verdict_lines(verdicts, commands = weigh_again(folder))))
  save_figure(plot_search(search), file.path(folder, "search.png"))
  report <- write_report(verdicts, file.path(folder, "report.html"))
  tell_user(
    "\nThe motor is made up (winch.sh in the folder).\nThe report: ", report, "\nThe figure: ",
    file.path(folder, "search.png")
  )
  0L
}

place_winch <- function(folder) {
  if (has_ledger(folder)) {
    return(invisible())
  }
  for (name in c("winch.sh", "winch.yml")) {
    file.copy(system.file("stand-in", name, package = "honestmargin"), file.path(folder, name), overwrite = TRUE)
  }
  file.rename(file.path(folder, "winch.yml"), file.path(folder, "study.yml"))
  writeLines("start 1", file.path(folder, "winch.boot"))
}

register("verb", "demo",
  takes = "[FOLDER]", files = c(0, 1), run = cli_demo,
  examples = c(
    "demo",
    "demo --search winch"
  ),
  about = "Weigh the study that comes with the tool; --live and --search run one here.",
  options = function() {
    list(
      live = option_flag("run a real study on this machine: compressing a file, in under two minutes"),
      search = option_flag("find the highest value at which a made-up motor holds, in under a minute")
    )
  },
  rank = 1
)
