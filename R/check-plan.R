# What the design of a plan forbids or makes weak.

register("check", "plan", scope = "plan", run = function(plan) {
  # a toggled session holds as many rounds as the tester flips
  all_toggled <- length(toggled_workloads(plan)) == length(plan$workloads)
  bind_findings(
    if (plan$blocks < 3 && !all_toggled && !(is_search(plan) && plan$blocks == 0)) {
      new_finding("warning", "few_blocks", blocks = plan$blocks)
    },
    if (plan$setting$one_way) {
      anchored <- any(vapply(plan$workloads, `[[`, NA, "anchor"))
      new_finding("warning", if (anchored) "one_way_anchored" else "one_way")
    } else if (plan$order == "fixed" && plan$blocks > 1) {
      new_finding("warning", "planned_fixed")
    } else if (plan$order == "mirrored" && length(plan_arms(plan)) > 2) {
      new_finding("warning", "planned_mirrored")
    },
    if (plan$setting$restart == "machine" && plan$passes_per_block > 1) new_finding("note", "boot_is_unit")
  )
})
