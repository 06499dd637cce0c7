# Studies that really run: small commands in a folder of their own.
local_plan <- function(..., env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  writeLines(c(...), file.path(folder, "study.yml"))
  folder
}
quick <- c(
  "setting: {name: level, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 3", "warm_up: 1",
  "metrics: [{id: score, worth: 2, primary: true}]", "workloads:", "  - id: squeeze"
)
# outcomes of the passes that ended, in their order, as the history tells them
ended_as <- function(folder) {
  told <- study_history(folder)
  told$detail[told$kind == "pass"]
}

# a run in a process of its own
start_run <- function(folder, through = character()) {
  words <- c(through, "sh", launcher_file, "run", folder)
  processx::process$new(words[1], words[-1], stderr = "|")
}
score <- "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"
