# The verb `demo`: the whole job on the study that comes with the tool.

cli_demo <- function(files, options) {
  folder <- empty_to(files, "demo-output")[1]
  if (!dir.exists(folder) && !suppressWarnings(dir.create(folder, recursive = TRUE))) {
    abort_stuck("this folder cannot be made", folder, "name another folder: honestmargin demo FOLDER")
  }
  study <- read_study(demo_study())
  verdicts <- weigh(study)
  writeLines(c(verdict_lines(verdicts), outcome_lines(outcome_table(study)), finding_lines(findings(verdicts))))
  report <- write_report(study, file.path(folder, "report.html"))
  save_figure(plot_change(verdicts), file.path(folder, "change.png"))
  message(
    "\nThe data are made up; what was put in: honestmargin::demo_truth().\nThe report: ", report, "\nThe figure: ",
    file.path(folder, "change.png")
  )
}
