# Value against cost: what nothing beats in both.

cost_data <- function(x, workload = NULL, metric = NULL, context = NULL, cost = NULL, ...) {
  if (is.null(cost)) abort_needed("name the cost", todo = "--cost METRIC, or an attribute of the arms: --cost power")
  x <- what_was_weighed(x)
  metric <- empty_to(metric, wanted_metrics(x, cost))[1]
  found <- weigh_cost(x, metric, cost, ...)
  wanted <- chosen_places(found$arms, workload, context)
  structure(
    found$arms[wanted, , drop = FALSE],
    labels = labels_of(found), metric = metric, cost = cost, better = attr(found, "better"),
    units = attr(found, "units")
  )
}

register("figure", "cost",
  rank = 7, data = cost_data, about = "value against cost, arm by arm",
  takes = c("baseline", "worth", "confidence", "cost")
)
