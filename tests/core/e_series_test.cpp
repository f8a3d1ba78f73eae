// Preferred values against the printed tables of IEC 60063.
#include "quantity/e_series.h"

#include <gmock/gmock.h>

namespace fair_gauge::e_series_test {

TEST(ESeriesValues, HaveTheCountTheirNameSays) {
  for (const int count : {3, 6, 12, 24, 48, 96, 192})
    EXPECT_EQ(decade_values(static_cast<ESeries>(count)).size(), static_cast<std::size_t>(count));
}

TEST(ESeriesValues, FollowThePrintedTables) {
  EXPECT_THAT(decade_values(ESeries::e6), testing::ElementsAre(1.0, 1.5, 2.2, 3.3, 4.7, 6.8));
  // Places where the table is not the rounded power of ten.
  EXPECT_THAT(decade_values(ESeries::e24), testing::IsSupersetOf({2.7, 3.0, 3.3, 3.6, 3.9, 4.3, 4.7, 8.2}));
  EXPECT_THAT(decade_values(ESeries::e192), testing::Contains(9.20));
  EXPECT_THAT(decade_values(ESeries::e192), testing::Not(testing::Contains(9.19)));
  EXPECT_THAT(decade_values(ESeries::e96), testing::IsSupersetOf({1.02, 4.99, 9.76}));
}

TEST(ESeriesValues, SpanDecades) {
  EXPECT_THAT(values_between(ESeries::e3, 1000, 22000), testing::ElementsAre(1000, 2200, 4700, 10000, 22000));
  EXPECT_TRUE(values_between(ESeries::e24, 5, 1).empty());
  EXPECT_TRUE(values_between(ESeries::e24, -1, 10).empty());
}

TEST(ESeriesValues, NearestIsByRatio) {
  EXPECT_DOUBLE_EQ(nearest_value(ESeries::e24, 8300), 8200);
  EXPECT_DOUBLE_EQ(nearest_value(ESeries::e12, 9.7), 10);
  EXPECT_EQ(e_series_from_text("e96"), ESeries::e96);
  EXPECT_EQ(e_series_from_text("E5"), std::nullopt);
}

}  // namespace fair_gauge::e_series_test
