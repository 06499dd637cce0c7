packed_folder <- function(folder) {
  inside <- file.path(folder, "results")
  dir.create(inside)
  for (i in 1:3) for (arm in c("off", "on")) {
    writeLines(paste0("fps: ", 100 + i + 5 * (arm == "on")), file.path(inside, paste0(arm, "_", i, ".txt")))
  }
  inside
}

expect_weighed_alike <- function(path, folder) {
  weighed <- lapply(c(path, folder), function(of) run_cli("weigh", of, "--baseline", "off", "--format", "csv"))
  expect_identical(weighed[[1]]$status, 0L)
  expect_match(weighed[[1]]$stdout, "gain")
  expect_identical(weighed[[1]]$stdout, weighed[[2]]$stdout)
}

test_that("a folder that was packed to be sent is weighed as the folder", {
  folder <- withr::local_tempdir()
  inside <- packed_folder(folder)
  withr::with_dir(folder, utils::tar("sent.tar.gz", "results", compression = "gzip", tar = "internal"))
  expect_weighed_alike(file.path(folder, "sent.tar.gz"), inside)
})

test_that("so is a zip, and one that is cut short is refused", {
  skip_if_not(nzchar(Sys.which("zip")), "zip is not here")
  folder <- withr::local_tempdir()
  inside <- packed_folder(folder)
  withr::with_dir(folder, utils::zip("sent.zip", "results", flags = "-rq"))
  expect_weighed_alike(file.path(folder, "sent.zip"), inside)
  whole <- readBin(file.path(folder, "sent.zip"), "raw", 1e6)
  writeBin(whole[seq_len(length(whole) %/% 2)], file.path(folder, "cut.zip"))
  refused <- run_cli("weigh", file.path(folder, "cut.zip"), "--baseline", "off")
  expect_identical(refused$status, 3L)
  expect_match(refused$stderr, "cut.zip: cannot be unpacked")
})

test_that("nothing of an archive lands outside of the folder it is unpacked into, and no link is followed", {
  skip_if_not(nzchar(Sys.which("tar")), "tar is not here")
  folder <- withr::local_tempdir()
  withr::with_dir(folder, {
    writeLines("arm,score", "plain.csv")
    file.symlink("/etc/hostname", "other.csv")
    system2("tar", c("-cf", "link.tar", "plain.csv", "other.csv"))
    dir.create("deep")
    system2("tar", c("-cPf", "../up.tar", "-C", "deep", "../plain.csv"), stderr = FALSE)
  })
  expect_match(run_cli("weigh", file.path(folder, "link.tar"))$stderr, "holds links to elsewhere")
  up <- file.path(dirname(folder), "up.tar")
  withr::defer(unlink(up))
  expect_match(run_cli("weigh", up)$stderr, "'../plain.csv' would lie outside of it", fixed = TRUE)
})

test_that("an archive of any name is local, and one too large, too deep or torn is refused before it is unpacked", {
  skip_if_not(nzchar(Sys.which("tar")), "tar is not here")
  folder <- withr::local_tempdir()
  inside <- packed_folder(folder)
  withr::with_dir(folder, utils::tar("host:sent.tar", "results", tar = "internal"))
  expect_weighed_alike(file.path(folder, "host:sent.tar"), inside)
  withr::with_dir(folder, expect_identical(run_cli("weigh", "host:sent.tar", "--baseline", "off",
    wd = folder)$status, 0L))
  # a header that promises 5 GB, as a bomb does; nothing of it is there
  header <- raw(512)
  header[1:5] <- charToRaw("a.csv")
  header[125:135] <- charToRaw(sprintf("%011.0f", 45201371000))
  large <- file.path(folder, "large.tar")
  writeBin(c(header, raw(1024)), large)
  deep <- file.path(folder, paste(rep("d", 40), collapse = "/"))
  dir.create(deep, recursive = TRUE)
  writeLines("fps: 1", file.path(deep, "off_1.txt"))
  withr::with_dir(folder, utils::tar("deep.tar", "d", tar = "internal"))
  for (path in c(large, file.path(folder, "deep.tar"))) {
    refused <- run_cli("weigh", path, "--baseline", "off")
    expect_identical(refused$status, 3L)
    expect_match(refused$stderr, "4 GB|30 deep|cannot be unpacked")
  }
})

test_that("what was unpacked by a process that was ended is taken away by the next", {
  folder <- withr::local_tempdir()
  packed_folder(folder)
  withr::with_dir(folder, utils::tar("sent.tar", "results", tar = "internal"))
  left <- file.path(dirname(tempdir()), "honestmargin-unpacked-999999-left")
  dir.create(left)
  run_cli("weigh", file.path(folder, "sent.tar"), "--baseline", "off")
  expect_false(dir.exists(left))
})

test_that("a pipe that lies in a folder is passed by, one that is named is read", {
  skip_on_os("windows")
  folder <- withr::local_tempdir()
  inside <- packed_folder(folder)
  system2("mkfifo", shQuote(file.path(inside, "on_9.csv")))
  out <- run_cli("weigh", inside, "--baseline", "off")
  expect_identical(out$status, 0L)
  scores <- write_lines("arm,score", "off,100", "on,104", "off,101", "on,105", "off,99", "on,104")
  piped <- processx::run("bash", c("-c", paste0(launcher, " weigh <(cat ", scores, ") --baseline off")),
    error_on_status = FALSE)
  expect_identical(piped$status, 0L)
})
