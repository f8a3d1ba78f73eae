#include "home/home_page.h"

#include <QDate>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <algorithm>
#include <cmath>

#include "language/translation.h"
#include "overview/to_do.h"
#include "quantity/number_format.h"
#include "wiring/bus_check.h"

namespace fair_gauge::app {
namespace {

constexpr int trend_points = 40, trend_every_ms = 1000;
constexpr std::size_t most_to_do = 6;

}  // namespace

Trend::Trend(const Theme& theme, QWidget* parent) : QWidget(parent), theme_(theme) {
  setFixedSize(theme.column_px(88), theme.px(24));
  setAccessibleName(tr("Trend of the last ten minutes"));
  connect(&theme, &Theme::changed, this, [this] { setFixedSize(theme_.column_px(88), theme_.px(24)); });
}

void Trend::show_values(std::vector<double> values) {
  values_ = std::move(values);
  update();
}

void Trend::paintEvent(QPaintEvent*) {
  if (values_.size() < 2) return;
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const auto [low, high] = std::ranges::minmax(values_);
  const double reach = high > low ? high - low : 1;
  QPainterPath path;
  for (std::size_t i = 0; i < values_.size(); ++i) {
    const QPointF at(2 + (width() - 6.0) * static_cast<double>(i) / static_cast<double>(values_.size() - 1),
                     height() - 4 - (height() - 8.0) * (values_[i] - low) / reach);
    i == 0 ? path.moveTo(at) : path.lineTo(at);
  }
  painter.setPen(QPen(theme_.colours().quiet, 1.2));
  painter.drawPath(path);
  painter.setBrush(theme_.colours().accent);
  painter.setPen(Qt::NoPen);
  painter.drawEllipse(path.currentPosition(), 2.4, 2.4);
}

HomePage::HomePage(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QScrollArea(parent), theme_(theme), workbench_(workbench) {
  scrolls_downwards(*this);
  auto* inside = new QWidget;
  inside->setObjectName(QStringLiteral("page"));
  title_ = new Text(theme, Face::title);
  subtitle_ = new Text(theme, Face::text, {}, Tint::quiet);
  subtitle_->setWordWrap(true);
  subtitle_->setObjectName(QStringLiteral("home_subtitle"));
  start_ = new StartBox(theme);
  connect(start_, &StartBox::demonstration_wanted, this, &HomePage::demonstration_wanted);
  connect(start_, &StartBox::new_bench_wanted, this, &HomePage::new_bench_wanted);
  connect(start_, &StartBox::listening_wanted, this, &HomePage::listening_wanted);
  list_ = column(0);
  auto* left = column(8);
  left->addWidget(title_);
  left->addWidget(subtitle_);
  begun_place_ = column(0);
  left->addLayout(begun_place_);
  left->addSpacing(8);
  beside_start_ = row(56);  // an alignment would not give it the height that its words need
  beside_start_->addWidget(start_);
  beside_start_->addStretch();
  left->addLayout(beside_start_);
  left->addSpacing(4);
  left->addLayout(list_);
  left->addStretch();

  to_do_ = column(2);
  shared_ = column(2);
  cautions_ = new Text(theme, Face::small);
  cautions_->setWordWrap(true);
  auto* care = new QWidget;
  care->setObjectName(QStringLiteral("caution"));
  care->setAttribute(Qt::WA_StyledBackground);
  auto* care_lines = column(4);
  care_lines->setContentsMargins(12, 8, 12, 8);
  care_lines->addWidget(new Text(theme, Face::strong, tr("Take care"), Tint::amber));
  care_lines->addWidget(cautions_);
  care->setLayout(care_lines);
  auto* right = column(8);
  right->addWidget(new Text(theme, Face::label, tr("WHAT NEEDS DOING NEXT"), Tint::quiet));
  right->addLayout(to_do_);
  right->addSpacing(12);
  shared_title_ = new Text(theme, Face::label, tr("WHAT THEY HANG ON"), Tint::quiet);
  right->addWidget(shared_title_);
  right->addLayout(shared_);
  right->addSpacing(12);
  right->addWidget(care);
  right->addStretch();
  side_ = new QWidget;
  side_->setLayout(right);
  const auto size_side = [this] {
    side_->setMinimumWidth(theme_.is_text_large() ? 0 : theme_.column_px(344));
    side_->setMaximumWidth(theme_.is_text_large() ? QWIDGETSIZE_MAX : theme_.column_px(344));
  };
  size_side();
  connect(&theme, &Theme::changed, this, [this, size_side] {
    size_side();
    rebuild();
    refresh();
  });
  auto* all = row(32);
  all->setContentsMargins(32, 20, 28, 16);
  all->addLayout(left, 1);
  all->addWidget(side_);
  stack_when_large(theme, all);  // beside each other they would leave no room for the words of a line
  inside->setLayout(all);
  setWidget(inside);
  since_trends_.start();
  connect(&workbench, &Workbench::bench_changed, this, [this] {
    side_due_ = true;
    since_trends_.restart();
  });
  connect(&workbench, &Workbench::values_changed, this, &HomePage::refresh);
  refresh();
}

void HomePage::rebuild() {
  clear(list_);
  lines_.clear();
  for (const Channel& channel : workbench_.bench().channels) {
    auto* line_box = new QWidget;
    Line line{channel.id,
              new Text(theme_, Face::number),
              new Trend(theme_),
              new Vial(theme_, Vial::Size::medium),
              new Text(theme_, Face::small),
              new Text(theme_, Face::small, {}, Tint::quiet)};
    auto* name = column(0);
    name->addWidget(new Text(theme_, Face::strong, text_of(called(channel))));
    if (!channel.place.empty()) {
      auto* place = new Text(theme_, Face::small, {}, Tint::quiet);
      place->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
      place->setText(place->fontMetrics().elidedText(text_of(channel.place), Qt::ElideRight, theme_.column_px(164)));
      place->setToolTip(in_own_marks(text_of(channel.place)));
      name->addWidget(place);
    }
    auto* name_box = new QWidget;
    name_box->setLayout(name);
    name_box->setFixedWidth(theme_.column_px(164));
    line.value->setFixedWidth(theme_.column_px(104));
    for (Text* words : {line.words, line.next}) words->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    auto* words = column(0);
    words->addWidget(line.words);
    words->addWidget(line.next);
    auto* open = new QPushButton(tr("Open"));
    open->setProperty("quiet", true);
    open->setAccessibleName(tr("Open %1").arg(text_of(channel.name)));
    connect(open, &QPushButton::clicked, this, [this, id = channel.id] { emit opened(id); });
    auto* layout = row(16);
    layout->setContentsMargins(0, 3, 0, 3);
    layout->addWidget(name_box);
    layout->addWidget(line.value);
    layout->addWidget(line.trend);
    if (theme_.is_text_huge()) line.trend->hide();  // the words need its room
    layout->addWidget(line.vial, 0, Qt::AlignVCenter);
    layout->addLayout(words, 1);
    layout->addWidget(open);
    line_box->setLayout(layout);
    list_->addWidget(line_box);
    lines_.push_back(line);
  }
}

void HomePage::showEvent(QShowEvent* event) {
  QScrollArea::showEvent(event);
  refresh();
}

std::vector<double> HomePage::trend_of(const std::string& channel_id) const {
  const auto past = workbench_.past(channel_id);
  std::vector<double> values;
  if (past.size() < 2) return values;
  const double step = std::max(1.0, static_cast<double>(past.size()) / trend_points);
  for (double i = 0; i < static_cast<double>(past.size()); i += step)
    values.push_back(past[static_cast<std::size_t>(i)].second);
  return values;
}

// At large text the ways to begin need its room.
void HomePage::show_first_chain(bool shown) {
  if (shown && !first_) {
    first_ = new FirstChain(theme_, workbench_.catalogue(), workbench_.style());
    beside_start_->insertWidget(1, first_);
  }
  if (!shown && first_) first_->deleteLater(), first_ = nullptr;
}

// Only a new bench has it: the start does not wait for it.
void HomePage::build_begun() {
  begun_ = new BegunBox(theme_);
  connect(begun_, &BegunBox::first_sensor_wanted, this, &HomePage::first_sensor_wanted);
  connect(begun_, &BegunBox::overview_wanted, this, &HomePage::overview_wanted);
  connect(begun_, &BegunBox::listening_wanted, this, &HomePage::listening_wanted);
  begun_place_->addWidget(begun_);
}

void HomePage::ask_for_name() {
  refresh();
  if (start_->isVisible()) start_->ask_for_name();
}

void HomePage::refresh() {
  if (!isVisible()) return;
  const Bench& bench = workbench_.bench();
  const bool fresh = !std::ranges::equal(lines_, bench.channels, {}, &Line::id, &Channel::id);
  if (fresh) rebuild();
  title_->setText(bench == Bench()     ? tr("A fair reading is one whose error is known")
                  : bench.name.empty() ? tr("A bench without a name")
                                       : text_of(bench.name));
  const bool begun = bench != Bench();  // a bench of one's own, its first channel still to come
  const bool goes_on = begun && start_->isAncestorOf(window()->focusWidget());  // it was begun by a key or a click
  start_->setVisible(bench.channels.empty() && !begun);
  const bool has_begun = bench.channels.empty() && begun;
  // Not before it is seen: a bench may be opened at once.
  if (isVisible()) show_first_chain(bench.channels.empty() && !begun && !theme_.is_text_large());
  if (has_begun && !begun_) build_begun();
  if (begun_) begun_->setVisible(has_begun);
  if (has_begun) begun_->show_bench(bench, workbench_.catalogue(), workbench_.style());
  if (has_begun && goes_on) begun_->setFocus();
  if (begun) start_->forget_name();
  side_->setVisible(!bench.channels.empty());
  const bool trends = fresh || since_trends_.elapsed() > trend_every_ms;
  int unfair = 0, unknown = 0, unjudged = 0;
  for (const Line& line : lines_) {
    const ChannelView& view = workbench_.view(line.id);
    const Fairness fairness = fairness_of(view.used());
    if (fairness == Fairness::unfair) ++unfair;
    line.vial->show_share(view.used(), view.bias());
    line.value->setText(view.reading && view.chain ? text_of(with_unit(view.chain->shown->from_base(*view.reading),
                                                                       Workbench::decimals_of(view),
                                                                       view.chain->shown->symbol, workbench_.style()))
                                                   : QStringLiteral("–"));
    if (!view.budget) ++unjudged;
    if (view.budget && view.budget->lacks_accuracy) ++unknown;
    line.words->setText(!view.budget || !view.chain            ? tr("Nothing to judge yet")
                        : view.budget->is_calibrated_elsewhere ? tr("Not known: proven at one point alone")
                        : view.budget->lacks_accuracy
                            ? tr("Not known: no accuracy stated")
                            : text_of(verdict_words(*view.budget, *view.chain->shown, workbench_.style())));
    line.words->set_tint(fairness == Fairness::fair     ? Tint::accent
                         : fairness == Fairness::tight  ? Tint::amber
                         : fairness == Fairness::unfair ? Tint::red
                                                        : Tint::quiet);
    if (view.silent_s)
      line.next->setText(tr("nothing has come for %1").arg(duration_words(*view.silent_s)));
    else if (!view.reading)
      line.next->setText(text_of(view.reading.problem().wrong));
    else if (view.budget && !view.budget->lines.empty())
      line.next->setText(tr("mostly %1 (%2 %)")
                             .arg(text_of(view.budget->lines.front().name))
                             .arg(std::lround(view.budget->lines.front().share * 100)));
    line.next->setToolTip(view.reading ? line.next->text() : in_own_marks(text_of(to_text(view.reading.problem()))));
    if (trends) line.trend->show_values(trend_of(line.id));
  }
  if (trends) since_trends_.restart();
  if (side_due_) refresh_side();
  QStringList states;
  if (unfair > 0) states << tr("%1 over the allowed error").arg(unfair);
  if (unjudged > 0) states << tr("%1 cannot be judged").arg(unjudged);
  if (unknown == 1) states << tr("of one nobody knows how far off it may be");
  if (unknown > 1) states << tr("of %1 nobody knows how far off they may be").arg(unknown);
  subtitle_->setText(
      bench.channels.empty()
          ? begun ? tr("%1. Nothing is measured on it yet: say what you want to know, and the sensors that can tell it "
                       "are ranked for this board.")
                        .arg(text_of(bench.board.name.empty() ? translated("A bench without channels")
                                                              : bench.board.name))
                  : tr("Three ways to begin. A bench that you have already: Ctrl+O, or drop its file here.")
          : QStringLiteral("%1%2 · %3")
                .arg(bench.place.empty() ? QString() : text_of(bench.place) + QStringLiteral(" · "),
                     bench.channels.size() == 1 ? tr("one channel") : tr("%1 channels").arg(bench.channels.size()),
                     states.isEmpty() ? tr("all within their allowed error") : states.join(QStringLiteral(", "))));
}

// On two lines at the most.
QString HomePage::broken(const QString& words, int room) const {
  const QFontMetrics metrics = fontMetrics();
  qsizetype end = words.size() <= room ? words.size() : words.lastIndexOf(QLatin1Char(' '), room);
  while (end > 0 && metrics.horizontalAdvance(words.left(end)) > room)
    end = words.lastIndexOf(QLatin1Char(' '), end - 1);
  if (end == words.size() || end <= 0) return metrics.elidedText(words, Qt::ElideRight, room);
  return words.left(end) + QLatin1Char('\n') + metrics.elidedText(words.mid(end + 1), Qt::ElideRight, room);
}

void HomePage::refresh_side() {
  side_due_ = false;
  const Bench& bench = workbench_.bench();
  clear(to_do_);
  const auto list =
      to_do(bench, workbench_.catalogue(), static_cast<int>(QDate(1970, 1, 1).daysTo(QDate::currentDate())));
  const auto step = [&](QVBoxLayout* into, const QString& words, const QString& figure, const QString& why,
                        const std::function<void()>& go) {
    auto* figures = figure.isEmpty() ? nullptr : new Text(theme_, Face::code, figure, Tint::quiet);
    const int room = theme_.column_px(344) - 16 - (figures ? figures->sizeHint().width() + 8 : 0);
    auto* button = new QPushButton(broken(in_own_marks(words), room));
    button->setProperty("quiet", true);
    button->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    button->setAccessibleName(in_own_marks(words));
    button->setToolTip(in_own_marks(why));
    connect(button, &QPushButton::clicked, this, go);
    auto* line = row(4);
    line->addWidget(button, 1);
    if (figures) line->addWidget(figures);
    into->addLayout(line);
  };
  for (std::size_t i = 0; i < list.size() && i < most_to_do; ++i) {
    const ToDo& each = list[i];
    step(to_do_, text_of(each.words), text_of(each.figure), text_of(each.words), [this, each] {
      if (each.kind == ToDoKind::bus)
        emit bus_wanted(each.id);
      else if (each.kind == ToDoKind::calibration)
        emit calibration_wanted(each.id);
      else if (each.kind == ToDoKind::handoff)
        emit handoff_wanted(each.id);
      else
        emit opened(each.id);
    });
  }
  if (list.empty())
    to_do_->addWidget(
        new Text(theme_, Face::small, tr("Nothing: every channel is within its allowed error."), Tint::accent));
  clear(shared_);
  for (const Bus& bus : bench.buses) {
    const auto members = members_of(bench, workbench_.catalogue(), bus);
    if (members.empty()) continue;
    step(shared_, text_of(called(bus)), members.size() == 1 ? tr("1 part") : tr("%1 parts").arg(members.size()),
         tr("Pull-ups, addresses, levels"), [this, id = bus.id] { emit bus_wanted(id); });
  }
  for (const Converter& converter : bench.converters) {
    const auto first = std::ranges::find_if(bench.channels, [&](const Channel& channel) {
      const Device* device = find_by_id(bench.devices, channel.device);
      return device && device->converter == converter.id;
    });
    if (first != bench.channels.end())
      step(shared_, text_of(called(converter)), QString(), tr("Opens its first channel"),
           [this, id = first->id] { emit opened(id); });
  }
  shared_title_->setVisible(shared_->count() > 0);
  // Those of this bench alone, each once; what holds for every bench last.
  QStringList cautions;
  for (const Channel& channel : bench.channels)
    for (const std::string& caution : channel.cautions)
      if (!cautions.contains(text_of(caution))) cautions << text_of(caution);
  constexpr qsizetype most_cautions = 3;  // all of them stand beside their channels
  if (const qsizetype more = cautions.size() - most_cautions; more > 0) {
    cautions.erase(cautions.begin() + most_cautions, cautions.end());
    cautions << (more == 1 ? tr("One more stands beside its channel.")
                           : tr("%1 more stand beside their channels.").arg(more));
  }
  cautions << tr("Whatever a reading switches on mains is work for a licensed electrician, with its own fuse and a "
                 "cut-out that needs no software.")
           << tr("Not for medical, life-safety or trade use.");
  cautions_->setText(cautions.join(QLatin1Char('\n')));
}

}  // namespace fair_gauge::app

#include "moc_home_page.cpp"
