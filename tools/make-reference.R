# Writes docs/plan.md from the table of plan keys. Run by `make docs`.
suppressMessages(pkgload::load_all(".", quiet = TRUE))
keys <- plan_keys()
cell <- function(text) gsub("|", "\\|", text, fixed = TRUE)
code <- function(text) ifelse(nzchar(text), paste0("`", cell(text), "`"), "")
lines <- c(
  "# What a plan may hold", "",
  "Made from the table that the plan is checked against (`make docs`), so nothing is missing here and nothing is",
  "too much. `*` stands for each entry of a list. **Bold** keys are needed.", "",
  "A *command* is a line for the shell, in which `{arm}`, `{workload}`, `{context}`, `{pass}`, `{seconds}`,",
  "`{folder}` and `{log}` stand for the values of the pass; or a list of words,",
  "`[program, word, ...]`, which is started without a",
  "shell. A value made of letters, digits and `. _ : / @ % , + -` may stand anywhere in a line. Any other is given to",
  "the shell as a variable, so it belongs inside double quotes; where the shell would take it apart or not see it,",
  "`plan` says so. `plan` also lists every command that `run` would start.", ""
)
top <- unique(sub("/.*", "", keys$key))
sections <- list(
  "The question" = c("study", "question"), "The setting and its arms" = c("setting", "arms"),
    "Looking for a value" = "search", "Many options" = "screen",
  "What is run" = "workloads", "What is judged" = "metrics", "A second factor" = "context",
  "How often, in which order" = c(
    "blocks", "passes_per_block", "warm_up", "order", "seed", "confidence", "drop_settled"
  ),
  "While it runs" = c("gates", "sensors", "frames_layout"),
  "For the record" = c("exclusion_rules", "versions", "variables", "machine", "conditions")
)
stopifnot(setequal(unlist(sections), top))
for (name in names(sections)) {
  rows <- keys[sub("/.*", "", keys$key) %in% sections[[name]], ]
  lines <- c(
    lines, paste("##", name), "", "| key | what it says | type | default | example |",
    "| --- | --- | --- | --- | --- |",
    paste0(
      "| ", ifelse(rows$required, "**", ""), code(rows$key), ifelse(rows$required, "**", ""), " | ", cell(rows$about),
      " | ", cell(rows$type), " | ", code(rows$default), " | ", code(rows$example), " |"
    ), ""
  )
}
lines <- c(
  lines, "A plan with the keys that most studies need:", "", "```yaml", readLines("tools/demo-study.yml"), "```"
)
writeLines(lines, "docs/plan.md")
