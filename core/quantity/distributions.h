// Distributions of statistics, from the one library that has them.
#pragma once

namespace fair_gauge {

/// The value below which Student's t lies with this chance. \param degrees_of_freedom  1 or more, not whole too
double student_quantile(double degrees_of_freedom, double chance);

/// The chance that χ² is larger than this. \param degrees_of_freedom  1 or more
double chi_squared_beyond(double degrees_of_freedom, double value);

/// Density of the standard normal distribution, and the chance to lie below.
double normal_density(double x);
double normal_below(double x);

}  // namespace fair_gauge
