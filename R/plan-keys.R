# Every key that a plan may hold, once: its place, type, default, what it says and
# an example. Checking, defaults, the nearest known key in an error and the
# reference page (docs/plan.md) are all made from this.

#' @param place Where: `setting/name`; `*` stands for each entry of a list.
#' @param type `text`, `texts` (a list of them), `number`, `count`, `flag`, `word` (one of
#'   `words`), `command` (a shell line, or a list of words), `map` (has keys of its own),
#'   `maps` (a list of maps), `free` (a map with keys of the tester's).
#' @param words Words, or a function that gives them.
#' @noRd
plan_key <- function(place, type, about, default = NULL, example = NULL, required = FALSE, words = NULL) {
  register("plan key", place,
    type = type, about = about, default = default, example = example, required = required,
    words = words, rank = length(registered("plan key"))
  )
}

plan_key("study", "text", "name of the study", example = "report rate")
plan_key("question", "text", "the question in one sentence; it heads every report", "",
  example = "Does a higher report rate cost smoothness?"
)

plan_key("setting", "map", "what is changed", required = TRUE)
plan_key("setting/name", "text", "its name", example = "report rate", required = TRUE)
plan_key("setting/unit", "text", "its unit, shown behind each value", "", example = "Hz")
plan_key("setting/ordered", "flag", "its values have an order", FALSE, example = "true")
plan_key("setting/baseline", "text", "the arm that the others are compared with; one arm alone needs none",
  example = "125"
)
plan_key("setting/command", "command", "puts the setting in place before a pass", example = "rate-tool --set {arm}")
plan_key("setting/by_hand", "text", "how a person puts it in place; {arm} stands for the value",
  example = "the memory page of the firmware"
)
plan_key("setting/restart", "word", "what has to start anew for it to take; machine: `run` stops for each restart",
  "nothing",
  words = c("nothing", "program", "machine"), example = "machine"
)
plan_key("setting/limits", "flag",
  "the setting is itself a frame limiter or a sync to the display: what it holds back is its effect", FALSE,
  example = "true"
)
plan_key("setting/one_way", "flag", "the old state cannot come back (an update): it runs first, all of it", FALSE,
  example = "true"
)
plan_key("setting/read_back", "map", "what the machine says it is running with; a mismatch makes the pass not count")
plan_key("setting/read_back/command", "command", "prints it", example = "rate-tool --show")
plan_key("setting/read_back/pattern", "text", "regular expression with one group that finds it in the output",
  example = "'rate: ([0-9]+)'"
)
plan_key("setting/read_back/typed", "flag", "a person types what the machine shows", FALSE, example = "true")
plan_key("setting/read_back/factor", "number", "what the shown value is multiplied with", 1, example = "2")
plan_key("setting/read_back/tolerance", "number", "share by which numbers may differ", 0, example = "0.01")

plan_key("arms", "maps", "the values of the setting; needed where there is no `search`")
plan_key("arms/*/value", "text", "the value", example = "2000", required = TRUE)
plan_key("arms/*/label", "text", "a name for people", example = "two thousand")
plan_key("arms/*/attributes", "free",
  "whatever else is particular to this arm; `plan` warns of what is not separable",
  example = "{capacity: 32 GB}"
)
plan_key("arms/*/settings", "free", "values that commands call by name: {NAME}", example = "{threads: 4, cache: small}")
plan_key("arms/*/by_hand", "text", "how a person sets this arm, where it is particular", example = "swap the kit")
plan_key("arms/*/expect", "text", "what the read-back should be, where it is not the value", example = "1999")

plan_key("workloads", "maps", "what is run", required = TRUE)
plan_key("workloads/*/id", "text", "its name", example = "harbour", required = TRUE)
plan_key("workloads/*/title", "text", "a longer name for people", example = "Harbour at noon")
plan_key("workloads/*/kind", "word", "scripted, driven against a clock, or free play",
  words = c("scripted", "timed", "free"), example = "timed"
)
plan_key("workloads/*/note", "text", "what cannot be held still", example = "weather changes")
plan_key("workloads/*/seed", "text", "seed of the workload, noted", example = "7")
plan_key("workloads/*/seconds", "number", "how long a pass takes; `check` warns of less than half", example = "60")
plan_key("workloads/*/command", "command", "runs one pass", example = "./game --replay harbour --rate {arm}")
plan_key("workloads/*/by_hand", "text", "how a person runs one pass", example = "drive one lap")
plan_key("workloads/*/time_limit", "number", "seconds after which a pass is ended (default: 10 times `seconds` + 60)",
  example = "120"
)
plan_key("workloads/*/settle", "number", "seconds to wait before the pass", 0, example = "5")
plan_key("workloads/*/trim", "number", "seconds at the start of each pass that do not count (loading)", 0,
  example = "2"
)
plan_key("workloads/*/segments", "texts", "named parts of the workload, with readings of their own",
  example = "[quay, square]"
)
plan_key("workloads/*/frames", "text", "file in the study folder to which the workload writes its frame log",
  example = "log.csv"
)
plan_key("workloads/*/probe", "flag", "frames are noted inside the program (OpenGL on X11, EGL, Vulkan)", FALSE,
  example = "true"
)
plan_key("workloads/*/beacon", "flag", "the program, or you, tells frames and marks (docs/beacon.md)", FALSE,
  example = "true"
)
plan_key("workloads/*/toggle", "map", "the setting is flipped while a pass runs; each flip is weighed as a pass")
plan_key("workloads/*/toggle/settle", "number", "seconds after a flip that do not count", 0, example = "2")
plan_key("workloads/*/anchor", "flag", "the setting cannot touch it: shows what time alone did (with one_way)", FALSE,
  example = "true"
)
plan_key("workloads/*/judge", "word",
  "blind: two passes, whose arms nobody is shown, make a pair, and you say which was better (docs/running.md)",
  words = "blind", example = "blind"
)
plan_key("workloads/*/outcome_only", "flag", "no number is expected: it is judged by how its passes end (soak, stress)",
  FALSE,
  example = "true"
)
plan_key("workloads/*/scores", "maps", "numbers that the workload gives")
plan_key("workloads/*/scores/*/metric", "text", "which metric it is", example = "score", required = TRUE)
plan_key("workloads/*/scores/*/segment", "text", "of which segment", example = "quay")
plan_key("workloads/*/scores/*/from", "word", "where it stands; clock: the seconds that the pass took",
  words = c("output", "file", "clock"), example = "clock"
)
plan_key("workloads/*/scores/*/file", "text", "file in the study folder", example = "out.json")
plan_key("workloads/*/scores/*/pattern", "text", "regular expression with one group; its last hit counts",
  example = "'score: ([0-9.]+)'"
)
plan_key("workloads/*/scores/*/json", "text", "path to the number in JSON", example = "'runs[0].score'")

plan_key("metrics", "maps", "what is judged")
plan_key("metrics/*/id", "text", "one of `metric_table()`, or your own", example = "fps_avg", required = TRUE)
plan_key("metrics/*/worth", "number", "the smallest change worth having, in percent (or the metric's unit)",
  example = "2"
)
plan_key("metrics/*/primary", "flag", "belongs to the family that is judged together; none marked: all do", FALSE,
  example = "true"
)
plan_key("metrics/*/unit", "text", "its unit", example = "s")
plan_key("metrics/*/better", "word", "which direction is better", words = c("higher", "lower"), example = "lower")
plan_key("metrics/*/scale", "word", "told in percent, or as a difference in its unit",
  words = c("percent", "absolute"), example = "absolute"
)
plan_key("metrics/*/label", "text", "a name for people", example = "load time")
plan_key("metrics/*/definition", "text", "how the number is made", example = "from click to first frame")
plan_key("metrics/*/parts", "texts", "metrics that this one is the total of", example = "[read, write]")
plan_key("metrics/*/noise", "number", "noise of one pass that you know, for planning", example = "0.8")

plan_key("context", "map", "a second factor, crossed with the setting")
plan_key("context/name", "text", "its name", example = "preset", required = TRUE)
plan_key("context/levels", "texts", "its levels", example = "[low, high]", required = TRUE)
plan_key("context/command", "command", "puts a level in place; {context} stands for it", example = "preset {context}")
plan_key("context/by_hand", "text", "how a person puts it in place", example = "in the menu")

plan_key("blocks", "count", "rounds in which every arm runs once", 5, example = "5")
plan_key("passes_per_block", "count", "passes of each arm in a block", 1, example = "2")
plan_key("drop_settled", "flag",
  "with run --until-settled: an arm whose comparisons are all settled is left out of later blocks", FALSE,
  example = "true"
)
plan_key("warm_up", "count", "passes that do not count, before the first one (or after each restart)", 0, example = "1")
plan_key("order", "word", "order of the arms inside a block", "shuffled",
  words = c("shuffled", "mirrored", "balanced", "fixed"), example = "mirrored"
)
plan_key("seed", "count", "seed of that order", 1, example = "7")
plan_key("confidence", "number", "confidence over the family of primary comparisons", 0.95, example = "0.95")
plan_key("gates", "maps", "what must hold before a pass may start")
plan_key("gates/*/name", "text", "what it is about", example = "heat")
plan_key("gates/*/pause", "number", "seconds to wait", 0, example = "20")
plan_key("gates/*/command", "command", "prints a number", example = "cat /sys/class/thermal/thermal_zone0/temp")
plan_key("gates/*/pattern", "text", "regular expression that finds the number", "(-?[0-9.]+)", example = "'([0-9]+)'")
plan_key("gates/*/below", "number", "the number must be below this", example = "50000")
plan_key("gates/*/wait", "number", "seconds to wait for it at most; then the pass runs, and says so", 600,
  example = "300"
)
plan_key("sensors", "map", "what is sampled while a pass runs")
plan_key("sensors/rate", "number", "samples a second; 0 turns it off", 5, example = "5")
plan_key("sensors/commands", "free", "further sensors, called \"quantity part [unit]\"",
  example = "{\"load graphics [%]\": gpu-load}"
)
plan_key("sensors/asked_clock", "word", "the setting is the clock of this part, which `clock_held` needs",
  words = c("processor", "graphics", "memory"), example = "graphics"
)
plan_key("sensors/limits", "maps", "time beyond a level becomes a metric")
plan_key("sensors/limits/*/series", "word", "which series",
  words = function() names(Filter(function(s) s$metrics, registered("series"))),
  example = "processor_temperature", required = TRUE
)
plan_key("sensors/limits/*/above", "number", "time above this", example = "90")
plan_key("sensors/limits/*/below", "number", "time below this", example = "3000")
plan_key("frames_layout", "free",
  "layout of the frame logs: column, holds, unit, delimiter, decimal, header_lines, program",
  example = "{column: 2, holds: durations, unit: us}"
)
plan_key("exclusion_rules", "texts", "for what a pass may be excluded, fixed before",
  example = "[another program was at work]"
)
plan_key("versions", "free", "commands whose answer is recorded with each pass", example = "{driver: driver --version}")
plan_key("variables", "texts", "variables of the environment that are recorded", example = "[GAME_PRESET]")
plan_key("machine", "free", "facts on the machine, for the report", example = "{processor: Oddlantern K6}")
plan_key("conditions", "free", "what was held still, for the report", example = "{power: mains}")

#' Keys directly below a place, without the place
#' @noRd
plan_children <- function(place) {
  known <- names(registered("plan key"))
  below <- if (nzchar(place)) known[startsWith(known, paste0(place, "/"))] else known
  rest <- if (nzchar(place)) substring(below, nchar(place) + 2) else below
  rest[!grepl("/", rest)]
}

plan_key_at <- function(place, key) registered("plan key", join_path(place, key))
