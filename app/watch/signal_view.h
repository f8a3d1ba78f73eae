// What is said of a signal: its figures, beside what the converter explains, those of what is in view or marked, and
// its events in words.
#pragma once

#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>
#include <QTimer>
#include <QWidget>
#include <functional>

#include "stream/span_figures.h"
#include "watch/log_plot.h"
#include "widgets/background.h"
#include "widgets/quantity_field.h"
#include "widgets/text.h"

namespace fair_gauge::app {

class SignalView : public QWidget {
  Q_OBJECT
 public:
  SignalView(const Theme& theme, Workbench& workbench, WatchLog& log, LogPlot& plot, QWidget* parent = nullptr);

 signals:
  void mistake_wanted(double raw);

 private:
  // Of all rows, and of those that are looked at where these are fewer.
  struct Figures {
    std::shared_ptr<const Watched> watched;
    std::pair<std::size_t, std::size_t> rows;
    Range limits;
    SpanFigures all, some;
    bool is_part() const { return some.rows < all.rows; }
  };
  void refresh();
  void show_limit();
  void work_out(const std::shared_ptr<const Watched>& watched);
  void show_figures();
  void show_events(const Review& review);
  Range limits_of(const Watched& watched) const;
  void showEvent(QShowEvent* event) override;

  const Theme& theme_;
  Workbench& workbench_;
  WatchLog& log_;
  LogPlot& plot_;
  Text *verdict_, *span_, *events_title_;
  QuantityField* limit_;
  std::optional<double> typed_limit_;  // base units
  std::string limit_of_;               // the channel that it was typed for
  Figures figures_now_;
  Background working_{this};
  QTimer rests_;  // a view that still moves is not worked out
  std::function<void()> when_rested_;
  QPushButton* mark_;
  QTableWidget* figures_;
  QListWidget* events_;
  QPushButton* why_;
};

}  // namespace fair_gauge::app
