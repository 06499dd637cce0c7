# Draws docs/pictures/rooms.svg, the picture of the rooms: one box a room, an arrow where the files of one room call
# ten functions of another or more, the thicker the more. Read from the code. Run by `make docs`.
files <- setdiff(list.files("R", "[.]R$", full.names = TRUE), "R/RcppExports.R")
code <- lapply(files, parse, keep.source = FALSE)
room <- sub("-.*", "", sub("[.]R$", "", basename(files)))
defines <- lapply(code, function(all) {
  is_one <- vapply(all, function(x) is.call(x) && as.character(x[[1]])[1] == "<-" && is.name(x[[2]]), NA)
  vapply(all[is_one], function(x) as.character(x[[2]]), "")
})
owner <- stats::setNames(rep(room, lengths(defines)), unlist(defines))
arrows <- do.call(rbind, lapply(seq_along(files), function(i) {
  used <- intersect(unique(unlist(lapply(code[[i]], all.names))), names(owner))
  data.frame(from = rep(room[i], length(used)), to = unname(owner[used]))
}))
ground <- c("aaa", "base", "honestmargin")
arrows <- arrows[arrows$from != arrows$to & !arrows$to %in% ground & !arrows$from %in% c(ground, "demo"), ]
count <- as.data.frame(table(from = arrows$from, to = arrows$to), stringsAsFactors = FALSE)
count <- count[count$Freq >= 10, ]
floors <- list(
  c("cli", "print", "report", "plot", "page"), c("ask", "tell", "figure"), c("study", "run", "record", "search"),
  c("parse", "ledger", "store", "source"), c("sheet", "summarise", "design", "verdict", "noise", "check", "tune"),
  c("plan", "metric", "series", "capture", "readings", "findings"), "base"
)
names <- c("6 faces", "5 answers", "4 studies", "3 edges", "2 core", "1 things", "0 ground")
place <- do.call(rbind, lapply(seq_along(floors), function(k) {
  n <- length(floors[[k]])
  data.frame(room = floors[[k]], x = (seq_len(n) - 0.5) / n * 10, y = length(floors) - k)
}))
grDevices::svg(file.path("docs", "pictures", "rooms.svg"), width = 11, height = 8)
graphics::par(mar = c(0.5, 5, 0.5, 0.5))
graphics::plot(NULL, xlim = c(0, 10), ylim = c(-0.4, 6.4), axes = FALSE, xlab = "", ylab = "")
graphics::text(-0.3, length(floors) - seq_along(floors), names, adj = 1, xpd = NA, font = 2, cex = 0.9)
for (i in seq_len(nrow(count))) {
  a <- place[place$room == count$from[i], ]
  b <- place[place$room == count$to[i], ]
  if (!nrow(a) || !nrow(b)) next
  same <- a$y == b$y
  graphics::arrows(a$x, a$y - if (same) 0 else 0.17, b$x, b$y + if (same) 0 else 0.17,
    length = 0.07, lwd = log1p(count$Freq[i]) / 2, col = if (count$Freq[i] > 29) "#2F3A44" else "#98A3AD"
  )
}
graphics::rect(place$x - 0.52, place$y - 0.17, place$x + 0.52, place$y + 0.17, col = "#FFFFFF", border = "#20262C")
graphics::text(place$x, place$y, paste0(place$room, "-"), cex = 0.85)
invisible(grDevices::dev.off())
