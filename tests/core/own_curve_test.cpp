// A curve of the user's own: how it is read, fitted, judged, and turned into a part of the catalogue.
#include "sizing/own_curve.h"

#include <gmock/gmock.h>

#include <cmath>

#include "chain/links.h"
#include "demo.h"
#include "parts/expression.h"

namespace fair_gauge::own_curve_test {

using testing::ElementsAre;
using testing::HasSubstr;

TEST(CurvePoints, AreReadInWhateverShapeTheyComeIn) {
  const std::vector<CurvePoint> points = {{0, 0.5}, {25, 0.75}};
  for (const char* text :
       {"0 0.5\n25 0.75", "0,0.5\n25,0.75\n", "25\t0.75\r\n0\t0.5\r\n", "0;0,5\n25;0,75", "0 0,5\n25 0,75",
        "T,V\n0, 0.5\n25, 0.75", "# read off the graph\n0 0.5\n\n25 0.75\n", "\"0\",\"0.5\"\n\"25\",\"0.75\""}) {
    const auto read = read_curve_points(text);
    ASSERT_TRUE(read) << text << ": " << to_text(read.problem());
    EXPECT_EQ(*read, points) << text;
  }
}

TEST(CurvePoints, AreWrittenAsPeopleWriteThem) {
  const CurveColumns ohms{.output = Interface::resistance};
  const std::vector<CurvePoint> points = {{-10, 55300}, {0, 32600}, {25, 10000}, {50, 3600}};
  for (const char* text :
       {"-10 55,3k\n0 32k6\n25; 10k\n50   3600", "T in °C, R in 25 steps\n−10 55.3 k\n0 32.6 kΩ\n25 10k\n50 3600 Ω",
        "14 degF, 55.3k\n32 °F, 32.6k\n25, 10 kOhm\n50, 3600",
        // As tables of thermistors are printed: the unit in the heading, or in a line of its own; least, nominal and
        // greatest.
        "T (°C);R (kΩ)\n-10;55.3\n0;32.6\n25;10\n50;3.6", "T in °F, R in kOhm\n14, 55.3\n32, 32.6\n77, 10\n122, 3.6",
        "Temp\tR\n[°C]\t[kΩ]\n-10\t55.3\n0\t32.6\n25\t10000 Ω\n50\t3.6", "T/°C R/kΩ\n-10 55.3\n0 32.6\n25 10\n50 3.6",
        "R of the 10 kΩ kind\n-10 55300\n0 32600\n25 10000\n50 3600",
        "T;Rmin;Rnom;Rmax\n°C;kΩ;kΩ;kΩ\n-10;54,2;55,3;56,4\n0;32,1;32,6;33,1\n25;9,9;10;10,1\n50;3,54;3,6;3,66",
        "T(°C),Rmin(kΩ),Rnom(kΩ),Rmax(kΩ)\n-10,54,55.3,56\n0,32,32.6,33\n25,9.9,10,10.1\n50,3.5,3.6,3.7"}) {
    const auto read = read_curve_points(text, ohms);
    ASSERT_TRUE(read) << text << ": " << to_text(read.problem());
    ASSERT_EQ(read->size(), points.size()) << text;
    for (std::size_t i = 0; i < points.size(); ++i) {
      EXPECT_NEAR((*read)[i].quantity, points[i].quantity, 1e-9) << text;
      EXPECT_NEAR((*read)[i].output, points[i].output, 1e-6) << text;
    }
  }
  EXPECT_EQ(*read_curve_points("temperature (C), output (mV)\n0, 500\n25, 750"),
            (std::vector<CurvePoint>{{0, 0.5}, {25, 0.75}}));
  // A bare number means the unit that is shown, and its problems are told in it.
  const CurveColumns hectopascals{.quantity = unit_by_ucum("hPa")};
  EXPECT_EQ(*read_curve_points("300 0,5\n1 bar 1\n1100 4.5 V", hectopascals),
            (std::vector<CurvePoint>{{30000, 0.5}, {100000, 1}, {110000, 4.5}}));
  EXPECT_THAT(to_text(read_curve_points("300 1\n300 2", hectopascals).problem()), HasSubstr("300 hPa stands twice"));
  EXPECT_THAT(fit_own_curve(CurveKind::line, {{30000, 0.5}, {110000, 4.5}}, hectopascals)->warnings,
              testing::Contains(HasSubstr("from 300 hPa to 1100 hPa only")));
}

TEST(CurvePoints, BadLinesAreNamed) {
  EXPECT_EQ(read_curve_points("0 0.5\n25 warm\n").problem().place.line, 2);
  EXPECT_EQ(read_curve_points("1O 0.5\n25 0.7\n").problem().place.line, 1) << "a letter is no zero, and no heading";
  EXPECT_THAT(to_text(read_curve_points("25 10 000\n").problem()), HasSubstr("line 1 has 3 numbers"));
  EXPECT_THAT(to_text(read_curve_points("0 1\n25\n").problem()), HasSubstr("line 2 has one number"));
  EXPECT_THAT(to_text(read_curve_points("0 1\n25 10 kΩ\n").problem()), HasSubstr("no unit of voltage"));
  EXPECT_THAT(to_text(read_curve_points("0 0.5\n0 0.7\n").problem()), HasSubstr("stands twice"));
  EXPECT_TRUE(read_curve_points("")->empty());
}

TEST(OwnCurve, ALineThroughTwoPointsIsExactAndSaysWhatItDoesNotKnow) {
  const auto curve = fit_own_curve(CurveKind::line, {{0, 0.5}, {100, 1.5}});
  ASSERT_TRUE(curve);
  EXPECT_NEAR(curve->transfer.numbers.at("slope"), 0.01, 1e-15);
  EXPECT_NEAR(curve->transfer.numbers.at("offset"), 0.5, 1e-12);
  EXPECT_THAT(curve->warnings, testing::Contains(HasSubstr("nothing of a bend")));
  EXPECT_THAT(curve->warnings, testing::Contains(HasSubstr("from 0 °C to 100 °C only")));
}

TEST(OwnCurve, LeastSquaresLineByHand) {
  // x 0 1 2 3, y 1 2.9 5.1 7: slope = Σ(x−1.5)(y−4)/Σ(x−1.5)² = (4.5+0.55+0.55+4.5)/5 = 2.02; offset 4 − 1.5·2.02 =
  // 0.97.
  const auto curve = fit_own_curve(CurveKind::line, {{0, 1}, {1, 2.9}, {2, 5.1}, {3, 7}});
  EXPECT_NEAR(curve->transfer.numbers.at("slope"), 2.02, 1e-12);
  EXPECT_NEAR(curve->transfer.numbers.at("offset"), 0.97, 1e-12);
  EXPECT_NEAR(curve->rms, std::sqrt((0.03 * 0.03 + 0.09 * 0.09 + 0.09 * 0.09 + 0.03 * 0.03) / 4), 1e-12);
  EXPECT_NEAR(curve->largest_error, 0.09 / 2.02, 1e-9);
}

TEST(OwnCurve, SteinhartThroughThreePointsOfAPublishedTable) {
  // A 10 kΩ thermistor's table: 0 °C 32 650 Ω, 25 °C 10 000 Ω, 50 °C 3 603 Ω; its 35 °C entry is 6 530 Ω.
  const auto curve = fit_own_curve(CurveKind::steinhart, {{0, 32650}, {25, 10000}, {50, 3603}});
  ASSERT_TRUE(curve);
  const auto law = transfer_law(own_part("mine", Quantity::temperature, Interface::resistance, *curve), {});
  EXPECT_NEAR(law->output(25), 10000, 0.01);
  EXPECT_NEAR(law->quantity(6530), 35, 0.02);
  EXPECT_FALSE(fit_own_curve(CurveKind::steinhart, {{0, 3600}, {25, 10000}, {50, 32650}})) << "rises with temperature";
  EXPECT_THAT(to_text(fit_own_curve(CurveKind::steinhart, {{0, -5}, {25, 10}, {50, 3}}).problem()),
              HasSubstr("cannot be"));
}

// Between 0 and 25 °C of a falling resistance the logarithm is straight: √(32650 · 10000) in the middle, not 21325.
TEST(OwnCurve, ATableOfAThermistorIsStraightInItsLogarithm) {
  const CurveColumns ohms{.output = Interface::resistance};
  const auto middle = [](const Result<OwnCurve>& curve, Interface interface) {
    return transfer_law(own_part("mine", Quantity::temperature, interface, *curve), {})->output(12.5);
  };
  EXPECT_NEAR(middle(fit_own_curve(CurveKind::table, {{0, 32650}, {25, 10000}}, ohms), Interface::resistance),
              std::sqrt(32650.0 * 10000), 1e-6);
  EXPECT_NEAR(middle(fit_own_curve(CurveKind::table, {{0, 1000}, {25, 1097.35}}, ohms), Interface::resistance),
              1048.675, 1e-6)
      << "one that rises is no thermistor";
  EXPECT_NEAR(middle(fit_own_curve(CurveKind::table, {{0, 2}, {25, 1}}), Interface::voltage), 1.5, 1e-9);
}

TEST(OwnCurve, ACurveThatTurnsBackIsRefused) {
  EXPECT_THAT(to_text(fit_own_curve(CurveKind::quadratic, {{0, 0}, {1, 1}, {2, 0}}).problem()),
              HasSubstr("two values"));
  EXPECT_THAT(to_text(typed_curve("(x-3)^2", 0, 10).problem()), HasSubstr("turns back"));
  EXPECT_THAT(to_text(fit_own_curve(CurveKind::quadratic, {{0, 0}, {1, 1}}).problem()), HasSubstr("too few"));
}

TEST(OwnCurve, ATypedFormulaIsCheckedAgainstPoints) {
  const auto curve = typed_curve("0.5 + 0.01*x", 0, 100, {{50, 1.02}});
  ASSERT_TRUE(curve);
  EXPECT_NEAR(curve->residuals.front(), 0.02, 1e-12);
  EXPECT_NEAR(curve->largest_error, 2, 1e-6);
  EXPECT_FALSE(typed_curve("0.5 + ", 0, 100));
  EXPECT_FALSE(typed_curve("x", 10, 0));
}

TEST(OwnCurve, BecomesAPartThatConvertsBothWays) {
  for (const CurveKind kind : {CurveKind::line, CurveKind::quadratic, CurveKind::table}) {
    const auto curve = fit_own_curve(kind, {{0, 0.5}, {25, 0.742}, {50, 0.998}, {80, 1.3}});
    ASSERT_TRUE(curve);
    const Part part = own_part("A sensor of my own", Quantity::temperature, Interface::voltage, *curve);
    EXPECT_EQ(part.id, "own-a-sensor-of-my-own");
    const auto law = transfer_law(part, {});
    for (double celsius = 1; celsius < 80; celsius += 7)
      EXPECT_NEAR(law->quantity(law->output(celsius)), celsius, 1e-6);
    EXPECT_EQ(part.quantities.front().minimum, 0);
    EXPECT_EQ(part.quantities.front().maximum, 80);
  }
}

TEST(Expression, TellsArgumentsFromDecimals) {
  EXPECT_EQ(Expression::read("max(1,2)")->at(0), 2);
  EXPECT_EQ(Expression::read("1,5 + x")->at(1), 2.5);
  EXPECT_EQ(Expression::read("(1,5 + x) * 2")->at(1), 5);
  EXPECT_EQ(Expression::read("min(x; 3)")->at(7), 3);
  EXPECT_EQ(Expression::read_of({}, "1 + 2")->at(std::span<const double>()), 3);
  EXPECT_FALSE(Expression::read_of({}, "a")) << "of nothing but numbers";
  for (const auto& [text, says] : {std::pair{"raw / 256", "nothing is called \"raw\" here"},
                                   {"x # 2", "\"# 2\" means nothing in it"},
                                   {"2 * (x + 1", "a closing bracket is missing"},
                                   {"2 * x)", "a bracket does not belong there"},
                                   {"x +", "it ends before its last value"},
                                   {"2 x", "an operator is missing before \"x\""},
                                   {"x + * 2", "a value is missing before \"*\""},
                                   {"min()", "is given too few values"},
                                   {"sqrt(1, 2)", "\"sqrt\" is given too many values"}})
    EXPECT_THAT(Expression::read(text).problem().wrong, testing::HasSubstr(says)) << text;
}

}  // namespace fair_gauge::own_curve_test
