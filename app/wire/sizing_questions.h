// The questions that the Wire page answers about a channel's components, as data: one panel asks and shows them all.
#pragma once

#include <QString>
#include <QStringList>
#include <functional>
#include <optional>
#include <vector>

#include "shell/workbench.h"

namespace fair_gauge::app {

/// A number or choice that the person may set before the answer.
struct WishField {
  QString label;
  QString why;
  Dimension dimension = Dimension::number;
  double value = 0;
  QStringList choices;  ///< not empty → `value` is an index of these
  QString when_none;    ///< not empty → 0 is none of it: these words stand in the empty field then
};

/// A change that puts a found value on the bench, as one undoable step.
struct Applicable {
  QString label;
  std::function<void(Bench&)> apply;
};

/// What was found, ready to be shown.
struct SizingAnswer {
  QString headline;
  bool good = true;
  QStringList reasons;
  QStringList columns;            ///< of the table
  std::vector<QStringList> rows;  ///< best first
  int marked_row = -1;
  /// One curve over all values looked at: x on a logarithmic axis, the choice and what is on the bench marked.
  struct Curve {
    QString x_label, y_label;
    QVector<double> x, y;
    double chosen_x = 0;
    double present_x = 0;  ///< 0 → nothing on the bench yet
  };
  std::optional<Curve> curve;
  std::vector<Applicable> applicable;
};

struct SizingQuestion {
  QString name;
  std::vector<WishField> wishes;
  std::function<SizingAnswer(const std::vector<WishField>&)> answer;
};

/// The questions that make sense for the chosen channel, the most useful first. They hold copies of what they need.
std::vector<SizingQuestion> sizing_questions(const Workbench& workbench);

}  // namespace fair_gauge::app
