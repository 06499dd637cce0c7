# Chance that comes out the same again.

# the generator is named, so that a seed means the same on every R
seeded <- function(seed, code) {
  withr::with_seed(seed, code,
    .rng_kind = "Mersenne-Twister", .rng_normal_kind = "Inversion",
    .rng_sample_kind = "Rejection"
  )
}
