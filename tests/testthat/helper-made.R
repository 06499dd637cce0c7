# how many studies a test draws: half in every suite, where what is far off shows; four times as many, `make calibrate`
simulated <- function(all) ceiling(all * as.numeric(Sys.getenv("HONESTMARGIN_SIMULATED", "0.5")))
# a share that is `level` in truth stays below this, but for three Monte Carlo errors
at_most <- function(level, studies) level + 3 * sqrt(level * (1 - level) / studies)
# A folder study of made-up passes; `frames(arm, i)` gives the frame times of each, `sensors(arm, i)` its samples.
made_study <- function(frames, arms = c("a", "b"), blocks = 4, extra = character(), sensors = NULL, started = NULL,
                       env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  dir.create(file.path(folder, "frames"))
  passes <- data.frame(
    arm = unlist(lapply(seq_len(blocks), function(b) if (b %% 2) arms else rev(arms))),
    block = rep(seq_len(blocks), each = length(arms))
  )
  passes <- data.frame(
    pass = sprintf("p%02d", seq_len(nrow(passes))), workload = "w", passes,
    order = seq_len(nrow(passes))
  )
  passes$started <- started
  writeLines(c(
    "setting: {name: s, baseline: a}", paste0("arms: [", paste0("{value: ", arms, "}", collapse = ", "), "]"),
    paste0("blocks: ", blocks), "metrics: [{id: fps_avg, worth: 2, primary: true}]",
    paste0("workloads: [{id: w", extra, "}]")
  ), file.path(folder, "study.yml"))
  write.csv(passes, file.path(folder, "passes.csv"), row.names = FALSE)
  for (i in seq_len(nrow(passes))) {
    x <- frames(passes$arm[i], i)
    writeLines(c("ms", format(x, digits = 10)), file.path(folder, "frames", paste0(passes$pass[i], ".csv")))
    if (!is.null(sensors)) {
      dir.create(file.path(folder, "sensors"), showWarnings = FALSE)
      write.csv(sensors(passes$arm[i], i), file.path(folder, "sensors", paste0(passes$pass[i], ".csv")),
        row.names = FALSE
      )
    }
  }
  folder
}
# frames of our own, not those of the simulator: neighbours alike as in a scene, with a spike now and then
plain_frames <- function(seconds, ms, seed, jitter = 0.05) {
  set.seed(seed)
  wander <- stats::filter(rnorm(ceiling(1.2 * seconds * 1000 / ms), sd = jitter * sqrt(0.75)), 0.5, "recursive")
  x <- ms * exp(as.numeric(wander))
  x[runif(length(x)) < 0.001] <- 4 * ms
  x[cumsum(x) < seconds * 1000]
}

# a workbook of one sheet, as a spreadsheet program writes it: text as text, numbers as numbers
write_sheet <- function(rows, sheets = list(a = rows), env = parent.frame()) {
  path <- withr::local_tempfile(fileext = ".xlsx", .local_envir = env)
  cell <- function(v) {
    if (is.na(v)) {
      return("<c/>")
    }
    number <- suppressWarnings(!is.na(as.numeric(v)))
    if (number) paste0("<c><v>", v, "</v></c>") else paste0("<c t=\"inlineStr\"><is><t>", v, "</t></is></c>")
  }
  body <- function(rows) {
    row <- function(r) paste0("<row>", paste(vapply(r, cell, ""), collapse = ""), "</row>")
    paste(vapply(rows, row, ""), collapse = "")
  }
  number <- seq_along(sheets)
  main <- "http://schemas.openxmlformats.org"
  links <- function(to, type, target) {
    paste0(
      "<Relationships xmlns=\"", main, "/package/2006/relationships\">", paste0(
        "<Relationship Id=\"r", seq_along(target), "\" Type=\"", main, "/officeDocument/2006/relationships/", type,
        "\" Target=\"", target, "\"/>",
        collapse = ""
      ), "</Relationships>"
    )
  }
  part <- function(name, type) {
    paste0("<Override PartName=\"/xl/", name, ".xml\" ContentType=\"", office, type, "+xml\"/>")
  }
  office <- "application/vnd.openxmlformats-officedocument.spreadsheetml."
  files <- c(
    `[Content_Types].xml` = paste0(
      "<Types xmlns=\"", main, "/package/2006/content-types\"><Default Extension=\"rels\" ContentType=\"",
      "application/vnd.openxmlformats-package.relationships+xml\"/>", part("workbook", "sheet.main"),
      paste(part(paste0("worksheets/sheet", number), "worksheet"), collapse = ""), "</Types>"
    ),
    `_rels/.rels` = links(".", "officeDocument", "xl/workbook.xml"),
    `xl/workbook.xml` = paste0(
      "<workbook xmlns=\"", main, "/spreadsheetml/2006/main\" xmlns:r=\"", main,
      "/officeDocument/2006/relationships\">",
      "<sheets>", paste0(
        "<sheet name=\"", names(sheets), "\" sheetId=\"", number, "\" r:id=\"r", number, "\"/>",
        collapse = ""
      ), "</sheets></workbook>"
    ),
    `xl/_rels/workbook.xml.rels` = links("xl", "worksheet", paste0("worksheets/sheet", number, ".xml"))
  )
  files[paste0("xl/worksheets/sheet", number, ".xml")] <- vapply(sheets, function(rows) {
    paste0(
      "<worksheet xmlns=\"", main, "/spreadsheetml/2006/main\"><sheetData>", body(rows), "</sheetData></worksheet>"
    )
  }, "")
  folder <- withr::local_tempdir()
  for (name in names(files)) {
    dir.create(file.path(folder, dirname(name)), showWarnings = FALSE, recursive = TRUE)
    writeLines(files[[name]], file.path(folder, name))
  }
  code <- "import sys, zipfile\nz = zipfile.ZipFile(sys.argv[1], 'w')\nfor n in sys.argv[2:]: z.write(n)"
  processx::run("python3", c("-c", code, path, names(files)), wd = folder)
  path
}
