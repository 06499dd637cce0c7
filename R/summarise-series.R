# From sensors to series: which column speaks of which part of the machine.

#' The series of a machine's parts, out of whatever sensors there are
#'
#' Where a machine has several devices of a kind, the series by the plain name is that
#' of the device at work (the highest mean load); each other one stays a series of its
#' own (`graphics_1_load`): an idle second device is a thing to see.
#' @param sensors Data frame: `time_s` and sensor columns.
#' @return Data frame: `time_s` and those of the registered series that are there;
#'   power comes from energy where there is no sensor of it.
#' @noRd
sensor_series <- function(sensors) {
  if (is.unsorted(sensors$time_s)) sensors <- sensors[order(sensors$time_s), , drop = FALSE]
  spoken <- what_columns_say(setdiff(names(sensors), "time_s"))
  parts <- spoken$parts
  at_work <- busy_device(sensors, parts)
  seen <- vapply(sensors[parts$column], function(v) any(is.finite(v)), NA)
  out <- list(time_s = sensors$time_s)
  for (series in registered("series")[names(spoken$hits)]) {
    hits <- spoken$hits[[series$name]]
    for (i in seq_along(hits)) {
      choice <- series$from[[i]]
      hit <- hits[[i]] & seen
      if (!any(hit)) next
      device <- if (choice$device) parts$device else rep("", length(hit))
      first <- if (at_work %in% device[hit]) at_work else device[hit][1]
      for (one in unique(device[hit])) {
        name <- if (one == first) {
          series$name
        } else {
          sub(
            "_", paste0("_", if (nzchar(one)) one else "0", "_"), series$name
          )
        }
        out[[name]] <- across(sensors[parts$column[hit & device == one]], choice$of)
      }
      break
    }
  }
  list2DF(power_from_energy(out))
}

#' Which columns each choice of each series would take, by their names alone
#'
#' The logs of a study have the same columns, so they are looked at once.
#' @return A list: `parts` (from `sensor_parts()`), `hits` (by series, a logical vector for each of its choices; only
#'   series that some column speaks of).
#' @noRd
what_columns_say <- function(columns) {
  if (!identical(columns, cache$columns$names)) {
    parts <- sensor_parts(columns)
    hits <- lapply(registered("series"), function(series) {
      lapply(series$from, function(choice) parts$quantity == choice$quantity & grepl(choice$part, parts$part))
    })
    said <- list(parts = parts, hits = Filter(function(own) any(unlist(own)), hits))
    cache$columns <- list(names = columns, said = said)
  }
  cache$columns$said
}

busy_device <- function(sensors, parts) {
  loads <- which(parts$quantity == "load" & grepl("^graphics", parts$part))
  means <- vapply(sensors[parts$column[loads]], mean, 1, na.rm = TRUE)
  if (length(means) && any(is.finite(means))) parts$device[loads][which.max(means)] else ""
}

power_from_energy <- function(out) {
  for (who in c("processor", "graphics")) {
    energy <- out[[paste0(who, "_energy")]]
    if (!is.null(energy) && is.null(out[[paste0(who, "_power")]]) && length(energy) > 1) {
      # samples of another sensor may stand between two of the counter
      seen <- which(is.finite(energy))
      power <- rep(NA_real_, length(energy))
      power[seen[-1]] <- diff(energy[seen]) / diff(out$time_s[seen])
      out[[paste0(who, "_power")]] <- power
    }
  }
  out
}

across <- function(values, of) {
  if (length(values) == 1) {
    return(as.numeric(values[[1]]))
  }
  values <- as.matrix(values)
  whole <- all(is.finite(values))
  found <- suppressWarnings(switch(of,
    mean = rowMeans(values, na.rm = TRUE),
    sum = rowSums(values, na.rm = TRUE),
    max = do.call(pmax, c(as.data.frame(values), na.rm = TRUE)),
    min = do.call(pmin, c(as.data.frame(values), na.rm = TRUE))
  ))
  if (!whole) found[!rowSums(is.finite(values))] <- NA
  found
}
