#include "shell/margin.h"

#include <QFontMetrics>
#include <QPainter>
#include <QPushButton>

#include <algorithm>
#include <cmath>

#include "stream/review.h"

namespace fair_gauge::app {
namespace {

// A button does not break its words: each line that is wider is broken at its spaces.
QString in_lines(const QString& words, const QFontMetrics& metrics, int width) {
  QStringList lines;
  for (const QString& line : words.split(QLatin1Char('\n'))) {
    QString now;
    for (const QString& word : line.split(QLatin1Char(' '))) {
      const QString longer = now.isEmpty() ? word : now + QLatin1Char(' ') + word;
      if (!now.isEmpty() && metrics.horizontalAdvance(longer) > width)
        lines << std::exchange(now, word);
      else
        now = longer;
    }
    lines << now;
  }
  return lines.join(QLatin1Char('\n'));
}

constexpr std::size_t most_sources = 4;
constexpr std::size_t most_improvements = 3;
constexpr int settle_ms = 120;  // improvements follow once the hand rests

// A source of error: its name, its share, and a bar.
class SourceRow : public QWidget {
 public:
  SourceRow(const Theme& theme, QWidget* parent = nullptr) : QWidget(parent), theme_(theme) {
    name_ = new Text(theme, Face::small);
    share_ = new Text(theme, Face::code, {}, Tint::quiet);
    name_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    auto* line = row(8);
    line->setContentsMargins(0, 0, 0, 6);
    line->addWidget(name_, 1);
    line->addWidget(share_);
    setLayout(line);
  }
  void show_line(const Contribution& line) {
    name_->setText(text_of(line.name));
    share_->setText(line.share < 0.005 ? QStringLiteral("<1 %")
                                       : QStringLiteral("%1 %").arg(std::lround(line.share * 100)));
    part_ = line.share;
    setToolTip(in_own_marks(
        QStringLiteral("%1: ±%2 %3").arg(text_of(line.name)).arg(line.width, 0, 'g', 3).arg(text_of(line.unit))));
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    const QRectF bar(0, height() - 5, width(), 3);
    painter.setBrush(theme_.colours().shade);
    painter.drawRoundedRect(bar, 1.5, 1.5);
    painter.setBrush(part_ > 0.5 ? theme_.colours().amber : theme_.colours().accent);
    painter.drawRoundedRect(QRectF(bar.topLeft(), QSizeF(std::max(3.0, bar.width() * part_), bar.height())), 1.5, 1.5);
  }

 private:
  const Theme& theme_;
  double part_ = 0;
  Text* name_;
  Text* share_;
};

}  // namespace

Margin::Margin(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QScrollArea(parent), theme_(theme), workbench_(workbench) {
  scrolls_downwards(*this);
  auto* inside = new QWidget;
  inside->setObjectName(QStringLiteral("margin"));
  auto* all = column(6);
  all->setContentsMargins(16, 12, 16, 12);
  all->addWidget(new Text(theme, Face::title, tr("Is it fair?")));
  vial_ = new Vial(theme, Vial::Size::large);
  all->addWidget(vial_);
  words_ = new Text(theme, Face::strong);
  words_->setObjectName(QStringLiteral("verdict"));
  detail_ = new Text(theme, Face::small, {}, Tint::quiet);
  for (Text* text : {words_, detail_}) {
    text->setWordWrap(true);
    all->addWidget(text);
  }
  implausible_ = new Text(theme, Face::small, {}, Tint::red);
  implausible_->setObjectName(QStringLiteral("margin_implausible"));
  implausible_->setWordWrap(true);
  all->addWidget(implausible_);
  auto* wrong = new QPushButton(tr("The number looks wrong"));
  wrong->setObjectName(QStringLiteral("margin_mistake"));
  wrong->setProperty("quiet", true);
  wrong->setToolTip(tr("Which usual mistake would give what your firmware shows"));
  connect(wrong, &QPushButton::clicked, this, &Margin::mistake_wanted);
  all->addWidget(wrong, 0, Qt::AlignLeft);
  all->addSpacing(4);
  auto* comes = new Text(theme, Face::label, tr("WHERE IT COMES FROM"), Tint::quiet);
  all->addWidget(comes);
  sources_ = column(4);
  all->addLayout(sources_);
  all->addSpacing(4);
  helps_ = new Text(theme, Face::label, tr("WHAT WOULD HELP MOST"), Tint::quiet);
  helps_->setWordWrap(true);
  all->addWidget(helps_);
  of_channel_ = {wrong, comes};
  improvements_layout_ = column(0);
  all->addLayout(improvements_layout_);
  all->addSpacing(4);
  cautions_ = new QWidget;
  cautions_->setObjectName(QStringLiteral("caution"));
  cautions_->setAttribute(Qt::WA_StyledBackground);
  auto* caution = column(4);
  caution->setContentsMargins(12, 8, 12, 8);
  caution->addWidget(new Text(theme, Face::strong, tr("Take care"), Tint::amber));
  caution_text_ = new Text(theme, Face::small);
  caution_text_->setWordWrap(true);
  caution->addWidget(caution_text_);
  cautions_->setLayout(caution);
  all->addWidget(cautions_);
  all->addStretch();
  inside->setLayout(all);
  setWidget(inside);
  follow_text();
  settle_.setSingleShot(true);
  settle_.setInterval(settle_ms);
  connect(&settle_, &QTimer::timeout, this, &Margin::find_improvements);
  connect(&theme, &Theme::changed, this, &Margin::follow_text);
  connect(&workbench, &Workbench::values_changed, this, &Margin::refresh);
  connect(&workbench, &Workbench::selection_changed, this, &Margin::refresh);
  refresh();
}

void Margin::follow_text() {
  if (theme_.is_text_huge()) {  // below the page, as wide as there is room
    setMinimumWidth(0);
    setMaximumWidth(QWIDGETSIZE_MAX);
  } else {
    setFixedWidth(theme_.column_px(264));
  }
  updateGeometry();
}

QSize Margin::minimumSizeHint() const {
  if (!theme_.is_text_huge()) return QScrollArea::minimumSizeHint();
  return {0, std::max(widget()->heightForWidth(width()), widget()->sizeHint().height())};
}

void Margin::refresh() {
  const ChannelView& view = workbench_.chosen();
  vial_->show_share(view.used(), view.bias());
  for (QWidget* each : of_channel_) each->setVisible(view.channel != nullptr);
  if (!view.budget || !view.chain) {
    words_->setText(tr("Nothing to judge yet"));
    words_->set_tint(Tint::quiet);
    detail_->setText(view.problem   ? text_of(to_text(*view.problem))
                     : view.channel ? tr("The value is outside what this chain can read.")
                                    : tr("Choose a sensor, or listen to a board: its channel is judged here."));
  } else {
    const Unit& shown = *view.chain->shown;
    const Fairness fairness = fairness_of(view.used());
    words_->setText(text_of(verdict_words(*view.budget, shown, workbench_.style())));
    words_->set_tint(fairness == Fairness::fair     ? Tint::accent
                     : fairness == Fairness::tight  ? Tint::amber
                     : fairness == Fairness::unfair ? Tint::red
                                                    : Tint::quiet);
    const QString symbol = text_of(difference_symbol(shown));
    const auto number = [&](double value) {  // two digits, as an uncertainty is stated
      return text_of(fixed(value / shown.scale, decimals_of_two_digits(value / shown.scale), workbench_.style()));
    };
    QString detail =
        view.budget->is_calibrated_elsewhere
            ? tr("At least ±%1 %2 by what is known. A point at each end of the range proves all of it, in Correct.")
                  .arg(number(view.budget->expanded), symbol)
        : view.budget->lacks_accuracy
            ? tr("At least ±%1 %2 by what is known. Give a figure of your own in Correct, or calibrate it.")
                  .arg(number(view.budget->expanded), symbol)
            : tr("True value within ±%1 %2 of the reading (95 %).").arg(number(view.budget->expanded), symbol);
    if (const std::string beyond = beyond_sheet_words(*view.budget, shown, workbench_.style()); !beyond.empty())
      detail += QLatin1Char(' ') + text_of(beyond);
    if (view.budget->known_bias > 0.02 * view.budget->allowed)
      detail +=
          QLatin1Char(' ') + tr("It warms itself and reads %1 %2 high.").arg(number(view.budget->known_bias), symbol);
    detail +=
        QLatin1Char('\n') + tr("One step is %1 %2: resolution, not accuracy.")
                                .arg(text_of(fixed(view.budget->step / shown.scale,
                                                   decimals_for(view.budget->step / shown.scale), workbench_.style())),
                                     symbol);
    detail_->setText(detail);
  }
  show_implausible(view);
  show_sources(view);
  show_cautions(view);
  // Advice is of one channel of one bench: with another it goes at once, and readings never put it off.
  if (advised_channel_ != workbench_.channel_id() || !(advised_bench_ == workbench_.bench())) {
    improvements_.clear();
    show_improvements();
    advised_channel_ = workbench_.channel_id();
    advised_bench_ = workbench_.bench();
  }
  if (!settle_.isActive()) settle_.start();
}

// A number that nobody would believe leads to what may be wrong.
void Margin::show_implausible(const ChannelView& view) {
  QString words;
  if (view.chain && view.reading && !workbench_.anchor()) {
    const Unit& shown = *view.chain->shown;
    const Range plausible =
        plausible_range(*view.chain, part_times(workbench_.bench(), workbench_.catalogue(), *view.chain));
    const auto number = [&](double value) {
      return text_of(with_unit(value, Workbench::decimals_of(view), shown.symbol, workbench_.style()));
    };
    if (!plausible.contains(shown.from_base(*view.reading)))
      words = tr("Implausible: outside %1 to %2.").arg(number(plausible.from), number(plausible.to));
  }
  implausible_->setVisible(!words.isEmpty());
  implausible_->setText(words);
}

void Margin::show_sources(const ChannelView& view) {
  const std::size_t wanted = view.budget ? std::min(most_sources, view.budget->lines.size()) : 0;
  while (sources_->count() > static_cast<int>(wanted)) {
    QLayoutItem* item = sources_->takeAt(sources_->count() - 1);
    delete item->widget();
    delete item;
  }
  while (sources_->count() < static_cast<int>(wanted)) sources_->addWidget(new SourceRow(theme_));
  for (std::size_t i = 0; i < wanted; ++i)
    static_cast<SourceRow*>(sources_->itemAt(static_cast<int>(i))->widget())->show_line(view.budget->lines[i]);
}

void Margin::find_improvements() {
  const ChannelView& view = workbench_.chosen();
  improvements_.clear();
  if (view.budget)
    improvements_ = improvements(workbench_.bench(), workbench_.catalogue(), workbench_.channel_id(), view.budget->at);
  if (improvements_.size() > most_improvements) improvements_.resize(most_improvements);
  show_improvements();
}

// Rows are kept while their words stay, so that a row under the mouse does not vanish with every reading.
void Margin::show_improvements() {
  helps_->setVisible(!improvements_.empty());
  const auto words_at = [this](int i) {
    return improvements_layout_->itemAt(i)->widget()->property("words").toString();
  };
  bool same = improvements_layout_->count() == static_cast<int>(improvements_.size());
  for (std::size_t i = 0; same && i < improvements_.size(); ++i)
    same = words_at(static_cast<int>(i)) == text_of(improvements_[i].words);
  if (!same) {
    clear(improvements_layout_);
    for (std::size_t i = 0; i < improvements_.size(); ++i) {
      auto* line = new QWidget;
      line->setProperty("words", text_of(improvements_[i].words));
      // Of an input of what is worked out: whose it is stands above it.
      const QString words =
          in_own_marks(text_of(improvements_[i].words)).replace(QStringLiteral(": "), QStringLiteral(":\n"));
      auto* button = new QPushButton(in_lines(words, QFontMetrics(theme_.font(Face::text)), theme_.column_px(132)));
      button->setProperty("quiet", true);
      button->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
      button->setToolTip(tr("Put this into the bench. Ctrl+Z takes it back."));
      button->setCursor(Qt::PointingHandCursor);
      auto* gain = new Text(theme_, Face::code, {}, Tint::quiet);
      gain->setObjectName(QStringLiteral("gain"));
      auto* layout = row(4);
      layout->addWidget(button, 1);
      layout->addWidget(gain);
      line->setLayout(layout);
      improvements_layout_->addWidget(line);
      connect(button, &QPushButton::clicked, this, [this, i] {
        if (i < improvements_.size())
          workbench_.document().replace(text_of(improvements_[i].words), improvements_[i].bench);
      });
    }
  }
  for (std::size_t i = 0; i < improvements_.size(); ++i) {
    auto* gain = improvements_layout_->itemAt(static_cast<int>(i))->widget()->findChild<Text*>(QStringLiteral("gain"));
    gain->setText(QStringLiteral("%1 → %2 %")
                      .arg(std::lround(improvements_[i].used_before * 100))
                      .arg(std::lround(improvements_[i].used_after * 100)));
  }
}

void Margin::show_cautions(const ChannelView& view) {
  QStringList cautions;
  if (view.channel)
    for (const std::string& caution : view.channel->cautions) cautions << text_of(caution);
  if (view.chain)
    if (const Part* part = workbench_.catalogue().find(view.chain->part_id)) {
      for (const std::string& caution : part->cautions) cautions << text_of(caution);
      for (const std::string& figure : part->unsettled) cautions << tr("Not settled: %1").arg(text_of(figure));
    }
  cautions_->setVisible(!cautions.isEmpty());
  caution_text_->setText(cautions.join(QStringLiteral("\n")));
}

}  // namespace fair_gauge::app

#include "moc_margin.cpp"
