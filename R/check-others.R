# Other programs at work while passes ran: the commonest cause of noise.

register("check", "others_at_work", scope = "study", run = function(study) {
  seen <- study$captured[study$captured$code == "others", , drop = FALSE]
  share <- vapply(seen$values, function(v) as.numeric(v$share), 1)
  # a quarter of a processor must be told, and ticks are counted in hundredths of a second
  busy <- share >= 0.18
  if (!any(busy)) {
    return(no_findings())
  }
  # by how much of it there was, not by how often a name came first
  named <- lapply(seen$values[busy], function(v) utils::head(as.character(unlist(v$names)), 2))
  most <- sort(tapply(rep(share[busy], lengths(named)), unlist(named), sum), decreasing = TRUE)
  ran <- length(unique(counted_passes(study)))
  new_finding("warning", "others_at_work",
    n = sum(busy), of = max(ran, sum(busy)), from = min(share[busy]), to = max(share[busy]),
    names = utils::head(names(most), 2)
  )
})
