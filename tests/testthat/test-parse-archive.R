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
