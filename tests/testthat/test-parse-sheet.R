# a workbook of one sheet, as a spreadsheet program writes it: text as text, numbers as numbers
write_sheet <- function(rows, env = parent.frame()) {
  path <- withr::local_tempfile(fileext = ".xlsx", .local_envir = env)
  cell <- function(v) {
    if (is.na(v)) {
      return("<c/>")
    }
    number <- suppressWarnings(!is.na(as.numeric(v)))
    if (number) paste0("<c><v>", v, "</v></c>") else paste0("<c t=\"inlineStr\"><is><t>", v, "</t></is></c>")
  }
  body <- vapply(rows, function(r) paste0("<row>", paste(vapply(r, cell, ""), collapse = ""), "</row>"), "")
  main <- "http://schemas.openxmlformats.org"
  links <- function(to, type, target) {
    paste0(
      "<Relationships xmlns=\"", main, "/package/2006/relationships\"><Relationship Id=\"r1\" Type=\"", main,
      "/officeDocument/2006/relationships/", type, "\" Target=\"", target, "\"/></Relationships>"
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
      part("worksheets/sheet1", "worksheet"), "</Types>"
    ),
    `_rels/.rels` = links(".", "officeDocument", "xl/workbook.xml"),
    `xl/workbook.xml` = paste0(
      "<workbook xmlns=\"", main, "/spreadsheetml/2006/main\" xmlns:r=\"", main,
      "/officeDocument/2006/relationships\">",
      "<sheets><sheet name=\"a\" sheetId=\"1\" r:id=\"r1\"/></sheets></workbook>"
    ),
    `xl/_rels/workbook.xml.rels` = links("xl", "worksheet", "worksheets/sheet1.xml"),
    `xl/worksheets/sheet1.xml` = paste0(
      "<worksheet xmlns=\"", main, "/spreadsheetml/2006/main\"><sheetData>", paste(body, collapse = ""),
      "</sheetData></worksheet>"
    )
  )
  folder <- withr::local_tempdir()
  for (name in names(files)) {
    dir.create(file.path(folder, dirname(name)), showWarnings = FALSE, recursive = TRUE)
    writeLines(files[[name]], file.path(folder, name))
  }
  code <- "import sys, zipfile\nz = zipfile.ZipFile(sys.argv[1], 'w')\nfor n in sys.argv[2:]: z.write(n)"
  processx::run("python3", c("-c", code, path, names(files)), wd = folder)
  path
}

rows <- list(
  c("Einstellung", "Punkte", "load time (s)"), c("off", "1000.5", "12.25"), c("on", "1041", "11"),
  c("off", "1008", "12.5"), c("on", NA, "10.75")
)
better <- c(Punkte = "higher")

test_that("a wide data frame is taken as the same table of text is", {
  text <- write_lines(vapply(rows, function(r) paste(ifelse(is.na(r), "", r), collapse = ","), ""))
  wanted <- as.data.frame(read_readings(text, columns = c(arm = "Einstellung"), better = better))
  frame <- data.frame(
    arm = c("off", "on", "off", "on"), Punkte = c(1000.5, 1041, 1008, NA), `load time (s)` = c(12.25, 11, 12.5, 10.75),
    check.names = FALSE
  )
  expect_equal(as.data.frame(read_readings(frame, better = better)), wanted, ignore_attr = TRUE)
  v <- weigh(frame[c("arm", "load time (s)")], "off", worth = 1)
  expect_identical(v$metric, "load time")
  expect_identical(v$better, "lower")
  expect_error(read_readings(data.frame(arm = character())), class = "honestmargin_error_input")
  if (requireNamespace("readODS", quietly = TRUE)) {
    sheet <- withr::local_tempfile(fileext = ".ods")
    getExportedValue("readODS", "write_ods")(frame, sheet)
    expect_equal(as.data.frame(read_readings(sheet, better = better)), wanted, ignore_attr = TRUE)
  }
})

test_that("a spreadsheet is read with one command, and what is none is refused", {
  skip_if(!nzchar(Sys.which("python3")), "python3 is not here")
  skip_if_not_installed("readxl")
  sheet <- write_sheet(rows)
  read <- read_readings(sheet, columns = c(arm = "Einstellung"), better = better)
  expect_identical(read$value[read$metric == "Punkte"], c(1000.5, 1041, 1008, NA))
  shell <- run_cli("weigh", sheet, "--better", "Punkte=higher", "-b", "off")
  expect_identical(shell$status, 0L, info = shell$stderr)
  expect_match(shell$stdout, "load time .*12.37 -> 10.87")
  broken <- write_lines("no workbook", ext = ".xlsx")
  expect_message_of(read_readings(broken), "honestmargin_error_input", "cannot be read as a spreadsheet")
  expect_identical(run_cli("weigh", "none.xlsx", "-b", "off")$status, 3L)
})
