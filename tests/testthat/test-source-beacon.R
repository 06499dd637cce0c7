beacon_plan <- function(command, ..., env = parent.frame()) {
  local_plan("setting: {name: level, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 1",
    "metrics: [{id: fps_avg, worth: 2, primary: true}]", "workloads:", "  - id: lap", "    beacon: true",
    "    segments: [harbour, tunnel]", paste0("    command: '", command, "'"), ...,
    env = env
  )
}
client <- function(name) system.file("beacon", name, package = "honestmargin")

test_that("the example clients in three languages are heard, and their segments are readings", {
  commands <- c(
    py = paste("python3", client("client.py")), pl = paste("perl", client("client.pl")),
    R = paste(rscript, client("client.R"))
  )
  for (kind in names(commands)) {
    skip_if(!nzchar(Sys.which(sub(" .*", "", commands[[kind]]))), paste("no", commands[[kind]]))
    folder <- beacon_plan(commands[[kind]])
    expect_identical(run_study(folder)$state, "done")
    study <- read_study(folder)
    expect_identical(unique(study$passes$outcome), "ok", info = kind)
    expect_false(any(findings(study)$check %in% c("noted", "beacon_refused", "gap")))
    value <- function(place, id) {
      study$readings$value[study$readings$segment %in% place & study$readings$metric == id]
    }
    if (kind == "pl") {
      expect_identical(value(NA, "frames"), c(100, 100))
    } else {
      expect_every(value("harbour", "ms_p50") < value("tunnel", "ms_p50"))
    }
    # the file's frames are 4 and 5 ms, then 8 and 9 ms
    if (kind == "R") expect_equal(value("harbour", "fps_avg"), rep(1000 / 4.5, 2))
    if (kind == "R") expect_equal(value("tunnel", "ms_p50"), rep(8.5, 2))
  }
})

test_that("the page on the protocol shows the clients as they are", {
  page <- paste(readLines(file.path(source_root(), "docs", "beacon.md")), collapse = "\n")
  for (name in c("client.py", "client.pl", "client.R")) {
    code <- paste(readLines(client(name)), collapse = "\n")
    expect_true(grepl(code, page, fixed = TRUE), info = name)
    expect_lte(length(readLines(client(name))), 15)
  }
})

listen <- function(send) {
  folder <- withr::local_tempdir()
  socket <- file.path(folder, "s")
  recorder <- honestmargin:::start_recorder(socket = socket, beacon = file.path(folder, "b"))
  send(socket)
  honestmargin:::end_recorder(recorder)
  expect_false(file.exists(socket))
  lines <- honestmargin:::read_beacon(file.path(folder, "b"), TRUE)
  c(list(size = file.size(file.path(folder, "b")), stored = lines), honestmargin:::beacon_trace(lines))
}
by_perl <- function(code) {
  function(socket) {
    processx::run("perl", c("-MIO::Socket::UNIX", "-e", paste0(
      "$SIG{PIPE} = \"IGNORE\"; my $s = IO::Socket::UNIX->new(Peer => $ARGV[0]) or die; ", code
    ), socket), timeout = 120)
  }
}

test_that("rubbish, silence, half a line and a flood lose nothing else", {
  skip_if(!nzchar(Sys.which("perl")), "no perl here")
  rubbish <- listen(by_perl(paste(
    "print $s \"beacon 1\\nframe 8\\n\", pack(\"C*\", 0..255), \"\\nhello there\\n\", \"x\" x 5000, \"\\n\";",
    "print $s \"frame -3\\nframe eight\\nframe 9\\nsegment harbour\\nframe 1\";"
  )))
  expect_identical(rubbish$frames$frame_time_ms, c(8, 9))
  expect_identical(rubbish$marks$value, "harbour")
  # the bytes up to the line feed, those after it, hello, the long line, the half line
  expect_identical(attr(rubbish$stored, "refused"), 5)
  expect_identical(rubbish$refused, 2)
  expect_identical(nrow(listen(by_perl("sleep 1;"))$stored), 0L)
  expect_identical(nrow(listen(by_perl("print $s \"frame 8\\nframe 9\\n\";"))$frames), 0L)
  expect_identical(nrow(listen(by_perl("print $s \"beacon 2\\nframe 8\\nframe 9\\n\";"))$frames), 0L)
})

test_that("a client that sends a gigabyte is cut off, the first frames are kept, and another client is heard", {
  skip_if(!nzchar(Sys.which("perl")), "no perl here")
  flood <- listen(function(socket) {
    by_perl("print $s \"beacon 1\\nframe 8\\nframe 9\\n\"; my $x = \"x\" x 1048576; print $s $x for 1..1024;")(socket)
    by_perl("print $s \"beacon 1\\nsegment tunnel\\n\";")(socket)
  })
  expect_identical(flood$frames$frame_time_ms, c(8, 9))
  expect_identical(flood$marks$value, "tunnel")
  expect_lt(flood$size, 1000)
})

test_that("stamps, lengths and arrivals give the same frames", {
  trace <- function(text, arrived = NA_real_) {
    honestmargin:::beacon_trace(data.frame(arrived_s = arrived, client = "1", text = text))
  }
  stamped <- trace(c("beacon 1", "@10 frame", "@10.008 frame", "@10.010 segment a", "@10.017 frame"), 10.2)
  expect_equal(stamped$frames$frame_time_ms, c(8, 9))
  expect_equal(stamped$marks$time_s, 10.010)
  timed <- trace(c("beacon 1", "frame 8", "segment a", "frame 9", "pause"))
  expect_equal(timed$frames, data.frame(start_s = c(0, 0.008), frame_time_ms = c(8, 9)))
  expect_equal(timed$marks$time_s, c(0.008, 0.017))
  arrived <- trace(c("beacon 1", "frame", "frame", "frame"), c(5, 5, 5.008, 5.017))
  expect_equal(arrived$frames$frame_time_ms, c(8, 9))
  # another clock is moved to ours as a whole
  other <- trace(c("beacon 1", "@90010 frame", "@90010.008 frame"), c(20, 20, 20.008))
  expect_equal(other$frames$start_s, 20, tolerance = 1e-6)
  expect_identical(trace(c("beacon 1", "frame", "frame"))$refused, 2)
})

test_that("lines that cannot be are refused singly and counted, and the pass is a result", {
  trace <- function(text, arrived = NA_real_) {
    honestmargin:::beacon_trace(data.frame(arrived_s = arrived, client = "1", text = text))
  }
  # three bare frames in one write: one moment, so two of them say nothing
  at_once <- trace(c("beacon 1", "frame", "frame", "frame", "frame"), c(5, 5, 5, 5, 5.01))
  expect_equal(at_once$frames$frame_time_ms, 10)
  expect_identical(at_once$refused, 2)
  back <- trace(
    c("beacon 1", "@1 frame", "@1.01 frame", "@0.5 frame", "@1.02 frame", "@1e300 frame", "@nan frame"), 1.1
  )
  expect_equal(back$frames$frame_time_ms, c(10, 10))
  expect_identical(back$refused, 3)
  odd <- trace(c("beacon 1", "frame 0x10", "frame Inf", "frame 1e999", "frame 8", "frame 9"))
  expect_equal(odd$frames$frame_time_ms, c(8, 9))
  expect_identical(odd$refused, 3)
  skip_if(!nzchar(Sys.which("perl")), "no perl here")
  folder <- beacon_plan("perl play.pl")
  writeLines(c(
    "use IO::Socket::UNIX; my $s = IO::Socket::UNIX->new(Peer => $ENV{HONESTMARGIN_BEACON}) or die;",
    "print $s \"beacon 1\\n\"; print $s \"\\@$_ frame\\n\" for (1, 5, 2);",
    "print $s \"frame\\n\" x 300; print $s \"frame 10\\n\" for 1 .. 200;"
  ), file.path(folder, "play.pl"))
  expect_identical(run_study(folder)$state, "done")
  study <- read_study(folder)
  expect_identical(study$passes$outcome, c("ok", "ok"))
  expect_match(findings(study)$message, "lines of the beacon said nothing", all = FALSE)
})

test_that("the socket lies where nobody else can look, and the run says where; a file without end is not read whole", {
  socket <- honestmargin:::beacon_socket()
  expect_identical(format(file.info(dirname(socket))$mode), "700")
  expect_lt(nchar(socket), 108)
  file <- withr::local_tempfile()
  to <- file(file, "wb")
  for (i in 1:40) writeBin(charToRaw(strrep("frame 10\n", 1e5)), to)
  close(to)
  lines <- honestmargin:::read_beacon(file, FALSE)
  read <- sum(nchar(lines$text) + 1)
  expect_lte(read, 32 * 2^20)
  expect_equal(nrow(lines) + attr(lines, "refused"), 4e6, tolerance = 0.01)
})
