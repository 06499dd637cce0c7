# How much is called, and how often: the demo from its logs to its report. Sourced by
# bench.R. Every function of the package is wrapped, so this runs in a process of its own.
count_calls <- function(code) {
  wrap <- '
    ns <- asNamespace("honestmargin")
    calls <- new.env()
    for (name in Filter(function(n) is.function(get(n, ns)), ls(ns, all.names = TRUE))) local({
      f <- get(name, ns)
      own <- name
      body(f) <- bquote({
        assign(.(own), 1 + mget(.(own), .(calls), ifnotfound = 0)[[1]], envir = .(calls))
        .(body(f))
      })
      unlockBinding(own, ns)
      assign(own, f, ns)
    })
    options(mc.cores = 1)
    # what other processes call would not be counted
    assignInNamespace("can_fork", function() FALSE, "honestmargin")
    tell <- function() cat(paste0(ls(calls), "=", mget(ls(calls), calls)), sep = "\n")
  '
  # inside the namespace: what library() attached are copies from before the wrapping
  inside <- sprintf("invisible(evalq({%s}, new.env(parent = asNamespace('honestmargin'))));", code)
  out <- processx::run("Rscript", c("-e", paste0("library(honestmargin);", wrap, inside, "tell()")))
  found <- strsplit(grep("=", strsplit(out$stdout, "\n")[[1]], value = TRUE), "=")
  stats::setNames(as.numeric(vapply(found, `[`, "", 2)), vapply(found, `[`, "", 1))
}
to_report <- count_calls(
  "v <- weigh(read_study(demo_study())); outcome_table(v); limiting_table(v); write_report(v, tempfile())"
)
times <- function(name) if (name %in% names(to_report)) to_report[[name]] else 0
said("the demo: times weighed", times("weigh"), "1 (5 before)")
said("the demo: designs recognised (9 questions)", times("recognise_design"), "few (1812 before)")
said("the demo: sensor files parsed (62 of them)", times("read_sensors"), "62 and those drawn (133 before)")
logs <- tempfile("bench-")
dir.create(file.path(logs, "frames"), recursive = TRUE)
invisible(file.copy(file.path(demo_study(), c("study.yml", "passes.csv")), logs))
invisible(file.copy(
  list.files(file.path(demo_study(), "frames"), full.names = TRUE), file.path(logs, "frames")
))
sentence <- count_calls(sprintf("sentences(weigh(read_study('%s')))", logs))
said("functions from frame logs to a sentence of the report", length(sentence), "100 or fewer")
said("functions from frame logs and sensors to the report", length(to_report), "(no aim)")

inside <- asNamespace("honestmargin")
hundred <- lapply(1:4, function(i) simulate_frames(800, 7, seed = i)[1:1e5])
one <- seconds(for (x in hundred) {
  inside$pile_of_frames(x)
  inside$find_loading(x)
  inside$find_coarse_step(x)
  inside$find_pace(x)
})
said("the checks of 100 passes of 100 000 frames", sprintf("%.1f s", 25 * one), "under 5 s")
