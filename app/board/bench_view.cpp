#include "board/bench_view.h"

#include <QAbstractItemView>
#include <QCompleter>
#include <QEvent>
#include <QPainter>
#include <QSettings>
#include <QStandardItemModel>
#include <QStyledItemDelegate>
#include <QTimer>

#include "bench/board_presets.h"
#include "chain/converter_part.h"
#include "choose/trial.h"
#include "parts/catalogue.h"
#include "quantity/number_format.h"
#include "stream/listening.h"

namespace fair_gauge::app {
namespace {

constexpr int most_found = 9;  // parts seen at once
constexpr std::size_t most_listed = 30;

// Parts that were found by words in any order: all of them fit what is typed, and one is written as its marking.
struct FoundParts : QCompleter {
  static constexpr int typed_role = Qt::UserRole, taken_role = Qt::UserRole + 1;

  FoundParts(QAbstractItemModel* model, QObject* parent) : QCompleter(model, parent) { setCompletionRole(typed_role); }
  QString pathFromIndex(const QModelIndex& index) const override { return index.data(taken_role).toString(); }
};

struct WordsOfKind {
  ThingKind kind;
  const char* heading;
  const char* one;
  const char* add;  ///< null → it is chosen elsewhere
};
constexpr WordsOfKind kinds[] = {{ThingKind::rail, QT_TRANSLATE_NOOP("fair_gauge::app::BenchView", "SUPPLIES"),
                                  QT_TRANSLATE_NOOP("fair_gauge::app::BenchView", "supply"),
                                  QT_TRANSLATE_NOOP("fair_gauge::app::BenchView", "Add a supply")},
                                 {ThingKind::converter, QT_TRANSLATE_NOOP("fair_gauge::app::BenchView", "CONVERTERS"),
                                  QT_TRANSLATE_NOOP("fair_gauge::app::BenchView", "converter"),
                                  QT_TRANSLATE_NOOP("fair_gauge::app::BenchView", "Add a converter")},
                                 {ThingKind::bus, QT_TRANSLATE_NOOP("fair_gauge::app::BenchView", "BUSES"),
                                  QT_TRANSLATE_NOOP("fair_gauge::app::BenchView", "bus"),
                                  QT_TRANSLATE_NOOP("fair_gauge::app::BenchView", "Add a bus")},
                                 {ThingKind::device, QT_TRANSLATE_NOOP("fair_gauge::app::BenchView", "PARTS"),
                                  QT_TRANSLATE_NOOP("fair_gauge::app::BenchView", "part"), nullptr},
                                 {ThingKind::channel, QT_TRANSLATE_NOOP("fair_gauge::app::BenchView", "READINGS"),
                                  QT_TRANSLATE_NOOP("fair_gauge::app::BenchView", "reading"), nullptr}};

const WordsOfKind& kind_of(ThingKind kind) { return *std::ranges::find(kinds, kind, &WordsOfKind::kind); }

constexpr int row_role = Qt::UserRole, words_role = Qt::UserRole + 1;

// The name, and behind it in quiet ink what it is.
class NameAndWords : public QStyledItemDelegate {
 public:
  NameAndWords(const Theme& theme, QObject* parent) : QStyledItemDelegate(parent), theme_(theme) {}

  void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    QStyledItemDelegate::paint(painter, option, index);
    QStyleOptionViewItem own = option;
    initStyleOption(&own, index);
    const int left = theme_.px(12) + QFontMetrics(own.font).horizontalAdvance(own.text);
    const QRect place = option.rect.adjusted(left, 0, -theme_.px(8), 0);
    const QFont font = theme_.font(Face::small);
    painter->setFont(font);
    painter->setPen(theme_.colours().quiet);
    painter->drawText(place, Qt::AlignVCenter,
                      QFontMetrics(font).elidedText(index.data(words_role).toString(), Qt::ElideRight, place.width()));
  }

 private:
  const Theme& theme_;
};

}  // namespace

BenchView::BenchView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  auto* all = row(32);
  all->addWidget(build_left(), 5);
  all->addWidget(build_detail(), 4);
  stack_when_huge(theme, all);
  setLayout(all);
  connect(&workbench, &Workbench::bench_changed, this, &BenchView::refresh);
}

QWidget* BenchView::build_left() {
  build_list();
  build_drawing();
  auto* all = list_column_ = column(8);
  all->addLayout(build_names());
  all->addWidget(either_, 1);
  all->addLayout(build_adds());
  all->addLayout(build_marking());
  all->addWidget(build_keeping());
  said_ = new Text(theme_, Face::small, {}, Tint::quiet);
  said_->setObjectName(QStringLiteral("bench_said"));
  said_->setWordWrap(true);
  all->addWidget(said_);
  auto* box = new QWidget;
  box->setLayout(all);
  return box;
}

void BenchView::build_list() {
  list_ = new QListWidget;
  list_->setObjectName(QStringLiteral("things"));
  list_->setAccessibleName(tr("What there is on the bench"));
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setTextElideMode(Qt::ElideRight);
  list_->setItemDelegate(new NameAndWords(theme_, list_));
  connect(list_, &QListWidget::currentRowChanged, this, [this](int at) {
    if (listing_ || at < 0) return;
    const auto things = things_of(workbench_.bench());
    const int which = list_->item(at)->data(row_role).toInt();
    if (which >= 0 && which < static_cast<int>(things.size())) choose(things[static_cast<std::size_t>(which)]);
  });
}

// The same as a drawing, and what changes from the one to the other.
void BenchView::build_drawing() {
  drawing_ = new BoardDrawing(theme_, workbench_);
  connect(drawing_, &BoardDrawing::chosen, this, &BenchView::choose);
  drawn_ = scrolled(drawing_);
  drawn_->viewport()->installEventFilter(this);
  drawing_->setObjectName(QStringLiteral("board_drawing"));
  either_ = new QStackedWidget;
  either_->addWidget(drawn_);
  either_->addWidget(list_);
  as_list_ = new QPushButton;
  as_list_->setObjectName(QStringLiteral("as_list"));
  as_list_->setProperty("quiet", true);
  connect(as_list_, &QPushButton::clicked, this, [this] {
    show_as_list(either_->currentIndex() == 0);
    QSettings().setValue(QStringLiteral("board_as_list"), either_->currentIndex() == 1);
  });
  show_as_list(QSettings().value(QStringLiteral("board_as_list")).toBool());
}

QLayout* BenchView::build_names() {
  const auto words = [this](const char* name, const QString& means, std::string Bench::*member) {
    auto* line = new QLineEdit;
    line->setObjectName(QLatin1String(name));
    line->setPlaceholderText(means);
    line->setAccessibleName(in_own_marks(means));
    connect(line, &QLineEdit::editingFinished, this, [this, line, means, member] {
      line->setModified(false);
      workbench_.document().edit(means, [&](Bench& bench) { bench.*member = line->text().trimmed().toStdString(); });
    });
    return line;
  };
  name_ = words("bench_name", tr("Name of the bench"), &Bench::name);
  where_ = words("bench_place", tr("Where it stands"), &Bench::place);
  auto* names = row(8);
  names->addWidget(name_, 1);
  names->addWidget(where_, 1);
  return names;
}

QLayout* BenchView::build_adds() {
  auto* adds = row(4);
  for (const WordsOfKind& each : kinds) {
    if (!each.add) continue;
    auto* button = new QPushButton(tr(each.add));
    button->setObjectName(QStringLiteral("add_thing_%1").arg(static_cast<int>(each.kind)));
    button->setProperty("quiet", true);
    connect(button, &QPushButton::clicked, this, [this, kind = each.kind] { add(kind); });
    adds->addWidget(button);
  }
  adds->addStretch();
  adds->addWidget(as_list_);
  return adds;
}

QLayout* BenchView::build_marking() {
  marking_ = new QLineEdit;
  marking_->setObjectName(QStringLiteral("part_in_hand"));
  marking_->setPlaceholderText(tr("what is printed on a part, or what it does"));
  marking_->setAccessibleName(tr("A part that you have in hand"));
  auto* known = new QStandardItemModel(marking_);
  auto* completer = new FoundParts(known, marking_);
  completer->setMaxVisibleItems(most_found);
  completer->popup()->setMinimumWidth(theme_.column_px(560));
  marking_->setCompleter(completer);
  // By Enter a line comes as a text that is confirmed; a click on it means the same.
  connect(completer->popup(), &QAbstractItemView::clicked, this, [this](const QModelIndex& line) {
    const QString meant = line.data(FoundParts::taken_role).toString();
    const auto put_on = [this, meant] {  // unless it is on already, by whoever clicks on
      if (marking_->text() == meant) fit(meant);
    };
    QMetaObject::invokeMethod(this, put_on, Qt::QueuedConnection);
  });
  connect(marking_, &QLineEdit::textEdited, known, [this, known](const QString& typed) { list_parts(*known, typed); });
  auto* button = new QPushButton(tr("Put it on the bench"));
  button->setObjectName(QStringLiteral("fit_part"));
  connect(button, &QPushButton::clicked, this, [this] { fit(marking_->text()); });
  connect(marking_, &QLineEdit::returnPressed, this, [this] { fit(marking_->text()); });
  auto* parts = row(8);
  parts->addWidget(marking_, 1);
  parts->addWidget(button);
  return parts;
}

QWidget* BenchView::build_keeping() {
  board_name_ = new QLineEdit;
  board_name_->setObjectName(QStringLiteral("board_name"));
  board_name_->setPlaceholderText(tr("what this controller is, in plain words"));
  board_name_->setAccessibleName(tr("What this controller is"));
  auto* keep = new QPushButton(tr("Keep it for new benches"));
  keep->setObjectName(QStringLiteral("keep_board"));
  keep->setToolTip(tr("Its supplies, converters, buses and pins stand among the controllers of a new bench then"));
  connect(keep, &QPushButton::clicked, this, &BenchView::keep_board);
  connect(board_name_, &QLineEdit::returnPressed, this, &BenchView::keep_board);
  keep_row_ = new QWidget;
  auto* boards = row(8);
  boards->addWidget(board_name_, 1);
  boards->addWidget(keep);
  keep_row_->setLayout(boards);
  return keep_row_;
}

// What a bench begins with that came from a line or a log: its controller is said afterwards.
void BenchView::build_board_row() {
  boards_ = load_board_presets(data_folders("boards"));
  QStringList names;
  for (const BoardPreset& preset : boards_) names << in_own_marks(text_of(preset.bench.board.name));
  auto* which = choice_box(names, "which_board", tr("Which controller it is"));
  auto* take = new QPushButton(tr("It is this controller"));
  take->setObjectName(QStringLiteral("take_board"));
  take->setEnabled(!boards_.empty());
  take->setToolTip(tr("Its supplies, converters, buses and pins stand on this bench then"));
  connect(take, &QPushButton::clicked, this, [this, which] {
    const BoardPreset& preset = boards_[static_cast<std::size_t>(which->currentIndex())];
    workbench_.document().edit(tr("Say which controller it is"), [&](Bench& bench) { take_board(bench, preset); });
    said_->setText(tr("Its supplies, converters and buses are on the bench. Put the parts on it."));
  });
  auto* line = row(8);
  line->addWidget(which, 1);
  line->addWidget(take);
  board_row_ = new QWidget;
  board_row_->setLayout(line);
  list_column_->insertWidget(1, board_row_);  // it comes first: parts need its supplies
}

void BenchView::keep_board() {
  const std::string name = board_name_->text().trimmed().toStdString();
  const auto kept = save_board_preset(workbench_.bench(), name, data_folders("boards").back());
  said_->set_tint(kept ? Tint::accent : Tint::red);
  said_->setText(kept ? tr("Kept: a new bench can begin with it.") : sentence(to_text(kept.problem())));
}

QWidget* BenchView::build_detail() {
  title_ = new Text(theme_, Face::title);
  title_->setObjectName(QStringLiteral("thing_title"));
  title_->setWordWrap(true);
  what_ = new Text(theme_, Face::small, {}, Tint::quiet);
  what_->setWordWrap(true);
  place_ = column(0);
  dependents_ = new Text(theme_, Face::small, {}, Tint::quiet);
  dependents_->setObjectName(QStringLiteral("thing_dependents"));
  dependents_->setWordWrap(true);
  open_ = new QPushButton;
  open_->setObjectName(QStringLiteral("thing_open"));
  open_->setProperty("quiet", true);
  connect(open_, &QPushButton::clicked, this, &BenchView::open_chosen);
  off_ = new QPushButton(tr("Take it off the bench"));
  off_->setObjectName(QStringLiteral("thing_off"));
  off_->setToolTip(tr("Ctrl+Z brings it back"));
  connect(off_, &QPushButton::clicked, this, &BenchView::take_away_chosen);
  auto* all = column(8);
  all->addWidget(title_);
  all->addWidget(what_);
  all->addLayout(place_);
  all->addWidget(open_, 0, Qt::AlignLeft);
  all->addSpacing(8);
  all->addWidget(dependents_);
  all->addWidget(off_, 0, Qt::AlignLeft);
  all->addStretch();
  auto* inside = new QWidget;
  inside->setLayout(all);
  return scrolled(inside);
}

void BenchView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void BenchView::choose(const Thing& thing) {
  chosen_ = thing;
  drop_form();
  refresh();
}

// Hidden first: what is being typed in it settles while it is whole.
void BenchView::drop_form() {
  ThingForm* form = form_;
  form_ = nullptr;
  if (!form) return;
  form->hide();
  form->deleteLater();
}

QString BenchView::words_of(const Thing& thing) const {
  const Bench& bench = workbench_.bench();
  const NumberStyle& style = workbench_.style();
  const auto volts = [&](const KnownVoltage& voltage) {
    return text_of(with_prefix(voltage.best_v(), "V", 4, style)) + QLatin1Char(' ') +
           (voltage.measured_v ? tr("measured") : tr("nominal"));
  };
  switch (thing.kind) {
    case ThingKind::rail: return volts(find_by_id(bench.rails, thing.id)->voltage);
    case ThingKind::converter: {
      const Converter& converter = *find_by_id(bench.converters, thing.id);
      return tr("%1 bits against %2").arg(converter.bits).arg(volts(reference_of(bench, converter)));
    }
    case ThingKind::bus: {
      const auto on_it = dependents_of(bench, thing).stay.size();
      return on_it == 1 ? tr("1 part") : tr("%1 parts").arg(on_it);
    }
    case ThingKind::device: {
      const Part* part = workbench_.catalogue().find(find_by_id(bench.devices, thing.id)->part);
      if (!part) return tr("a part that the catalogue does not know");
      return text_of(part->name) +
             (part->markings.empty() ? QString() : QStringLiteral(", ") + text_of(part->markings.front()));
    }
    case ThingKind::channel: {
      const Channel& channel = *find_by_id(bench.channels, thing.id);
      const Unit* unit = unit_by_ucum(channel.unit);
      if (!unit) return text_of(translated_name(channel.quantity));
      const auto number = [&](double shown) {
        return text_of(fixed(shown, std::abs(shown) < 10 && shown != std::round(shown) ? 1 : 0, style));
      };
      return tr("%1 to %2 %3, allowed ±%4 %3")
          .arg(number(unit->from_base(channel.wanted.from)), number(unit->from_base(channel.wanted.to)),
               text_of(unit->symbol), text_of(shortest(channel.tolerance / unit->scale, style)));
    }
  }
  return {};
}

void BenchView::refresh() {
  if (!isVisible()) return;
  const auto things = things_of(workbench_.bench());
  if (chosen_ && std::ranges::find(things, *chosen_) == things.end()) {
    chosen_.reset();
    drop_form();
  }
  if (!chosen_ && !things.empty()) chosen_ = things.front();
  for (const auto& [line, words] : {std::pair(name_, &workbench_.bench().name), {where_, &workbench_.bench().place}})
    if (!line->hasFocus() || !line->isModified()) line->setText(text_of(*words));
  const bool no_board = has_no_board(workbench_.bench());
  keep_row_->setVisible(!things.empty() && !no_board);
  if (no_board && !board_row_) build_board_row();
  if (board_row_) board_row_->setVisible(no_board);
  if (!board_name_->hasFocus() && !board_name_->isModified()) {
    board_name_->setText(in_own_marks(text_of(workbench_.bench().board.name)));
    board_name_->setCursorPosition(0);
  }
  list_things();
  drawing_->show_bench(chosen_);
  keep_in_sight();
  show_chosen();
}

void BenchView::keep_in_sight() {
  if (!chosen_) return;
  if (const QRect place = drawing_->place_of(*chosen_); !place.isEmpty())
    drawn_->ensureVisible(place.left(), place.center().y(), 0, place.height());
}

bool BenchView::eventFilter(QObject* watched, QEvent* event) {
  // What is said below takes room; the bars know of it only afterwards.
  if (event->type() == QEvent::Resize) QMetaObject::invokeMethod(this, &BenchView::keep_in_sight, Qt::QueuedConnection);
  return QWidget::eventFilter(watched, event);
}

void BenchView::show_as_list(bool as_list) {
  either_->setCurrentIndex(as_list ? 1 : 0);
  as_list_->setText(as_list ? tr("As a drawing") : tr("As a list"));
}

void BenchView::list_things() {
  listing_ = true;
  const int before = list_->count();
  const auto things = things_of(workbench_.bench());
  int at = 0;
  const auto put = [&](const QString& name, const QString& words, int which, bool heading) {
    QListWidgetItem* item = list_->item(at);
    if (!item) list_->addItem(item = new QListWidgetItem);
    item->setText(in_own_marks(name));
    item->setData(words_role, in_own_marks(words));
    item->setData(Qt::AccessibleTextRole, name + QLatin1Char(' ') + in_own_marks(words));
    item->setToolTip(in_own_marks(words));
    item->setData(row_role, which);
    item->setFlags(heading ? Qt::NoItemFlags : Qt::ItemIsEnabled | Qt::ItemIsSelectable);
    item->setFont(theme_.font(heading ? Face::label : Face::text));
    ++at;
  };
  for (const WordsOfKind& each : kinds) {
    bool any = false;
    for (std::size_t i = 0; i < things.size(); ++i) {
      if (things[i].kind != each.kind) continue;
      if (!any) put(tr(each.heading), {}, -1, true);
      any = true;
      put(text_of(name_of(workbench_.bench(), things[i])), words_of(things[i]), static_cast<int>(i), false);
      if (chosen_ == things[i]) list_->setCurrentRow(at - 1);
    }
    if (!any && each.add) put(tr("No %1 yet").arg(tr(each.one)), {}, -1, true);
  }
  while (list_->count() > at) delete list_->takeItem(at);
  if (chosen_ && before != list_->count()) list_->scrollToItem(list_->currentItem());
  listing_ = false;
}

void BenchView::show_chosen() {
  for (QWidget* part : std::initializer_list<QWidget*>{what_, dependents_, open_, off_})
    part->setVisible(bool(chosen_));
  if (!chosen_) {
    title_->setText(tr("An empty bench. Begin with the supply: everything hangs on it."));
    return;
  }
  const Bench& bench = workbench_.bench();
  title_->setText(text_of(name_of(bench, *chosen_)));
  what_->setText(sentence((tr(kind_of(chosen_->kind).one) + QStringLiteral(": ") + words_of(*chosen_)).toStdString()));
  if (!form_) {
    form_ = new ThingForm(theme_, workbench_, *chosen_);
    place_->addWidget(form_);
  }
  form_->refresh();
  open_->setVisible(chosen_->kind == ThingKind::bus || chosen_->kind == ThingKind::channel);
  open_->setText(chosen_->kind == ThingKind::bus ? tr("Pull-ups, levels and addresses: open in Bus")
                                                 : tr("Range, circuit and error: open in Wire"));
  const Dependents dependents = dependents_of(bench, *chosen_);
  const auto names = [&](const std::vector<Thing>& things) {
    QStringList words;
    for (const Thing& each : things)
      if (const QString name = text_of(name_of(bench, each)); !words.contains(name)) words << name;
    if (words.size() > 6) words = words.mid(0, 5) << tr("%1 more").arg(words.size() - 5);
    return words.join(QStringLiteral(", "));
  };
  QString words;
  if (!dependents.go.empty()) words += tr("Taken off, its readings go with it: %1. ").arg(names(dependents.go));
  if (!dependents.stay.empty()) words += tr("On it hang: %1. They stay, and lack it then.").arg(names(dependents.stay));
  dependents_->setText(words.isEmpty() ? tr("Nothing hangs on it.") : words);
}

void BenchView::add(ThingKind kind) {
  std::string id;
  workbench_.document().edit(tr(kind_of(kind).add), [&](Bench& bench) { id = add_thing(bench, kind); });
  said_->setText({});
  choose({kind, id});
  if (auto* name = form_ ? form_->findChild<QLineEdit*>(QStringLiteral("thing_name")) : nullptr) {
    name->setFocus();
    name->selectAll();
  }
}

// Each found part by the marking that is meant, with what it does.
void BenchView::list_parts(QStandardItemModel& into, const QString& typed) {
  into.clear();
  const QString words = typed.trimmed();
  if (words.size() < 2) return;
  const auto found = workbench_.catalogue().suggest(words.toStdString());
  for (std::size_t i = 0; i < std::min<std::size_t>(found.size(), most_listed); ++i) {
    const Part& part = *found[i];
    const auto meant = std::ranges::find_if(
        part.markings, [&](const std::string& each) { return text_of(each).startsWith(words, Qt::CaseInsensitive); });
    const QString marking = meant != part.markings.end() ? text_of(*meant)
                            : part.markings.empty()      ? QString()
                                                         : text_of(part.markings.front());
    const QString name = text_of(part.name);
    auto* item = new QStandardItem(marking.isEmpty() ? name : marking + QStringLiteral(" · ") + name);
    item->setData(typed, FoundParts::typed_role);
    item->setData(marking.isEmpty() ? name : marking, FoundParts::taken_role);
    into.appendRow(item);
  }
}

void BenchView::forget_marking() {
  marking_->setText({});
  // Chosen from the list by Enter, it is written into the field once more after it was taken.
  QTimer::singleShot(0, marking_, [this] { marking_->setText({}); });
}

void BenchView::fit(const QString& marking) {
  const std::string wish = marking.trimmed().toStdString();
  const auto refuse = [this](const QString& why) {
    said_->setText(why);
    marking_->selectAll();  // whoever goes on typing types another
  };
  if (wish.empty()) return refuse(tr("Type what is printed on the part, such as DS18B20, or what it does."));
  const Part* part = workbench_.catalogue().find(wish);
  if (!part) {
    const auto found = workbench_.catalogue().suggest(wish);
    if (found.empty())
      return refuse(tr("No part of the catalogue is called \"%1\". Read → Own part describes one.").arg(marking));
    const auto same = [&](const Part* each) { return each->name == wish; };
    const auto exact = std::ranges::find_if(found, same);
    if (found.size() > 1 && exact == found.end()) {
      said_->setText(tr("%1 parts are called so: choose one of them, or type more of it.").arg(found.size()));
      // After the key that closes it. Nothing is marked: whoever goes on typing types more.
      QMetaObject::invokeMethod(
          marking_, [this] { marking_->completer()->complete(); }, Qt::QueuedConnection);
      return;
    }
    part = exact == found.end() ? found.front() : *exact;
  }
  if (is_converter(*part)) {
    std::string id;
    workbench_.document().edit(tr("Put a part on the bench"), [&](Bench& bench) {
      id = add_thing(bench, ThingKind::converter);
      Converter& added = *find_by_id(bench.converters, id);
      added = with_part(added, *part);
      if (!part->markings.empty()) added.name = part->markings.front();
    });
    forget_marking();
    said_->setText(
        tr("%1 is on the bench. Choose it as the converter of what it is to read.").arg(text_of(part->name)));
    return choose({ThingKind::converter, id});
  }
  auto trial = fit_part(workbench_.bench(), workbench_.catalogue(), *part);
  if (!trial) return refuse(sentence(part->name + ": " + to_text(trial.problem())));
  const std::string channel = trial->channel, device = trial->bench.devices.back().id;
  QStringList effort;
  for (const Effort& each : trial->effort) effort << text_of(each.words);
  QString taken;
  if (const Channel* bare = workbench_.chosen().channel;
      bare && lacks_sensor(*bare) && may_make(*part, workbench_.listener().proposals(), bare->name_on_line())) {
    taken = tr(" The numbers of %1 are its own now.").arg(text_of(called(*bare)));
    const std::string name = bare->name_on_line();
    hand_numbers_on(trial->bench, bare->id, channel);
    give_line_name(trial->bench, workbench_.catalogue(), channel, name,
                   bytes_at_once(workbench_.listener().proposals(), name));
  }
  const QString with = effort.isEmpty() ? QString() : tr(" It takes %1.").arg(effort.join(QStringLiteral(", ")));
  workbench_.document().replace(tr("Put a part on the bench"), std::move(trial->bench));
  workbench_.choose_channel(channel);
  forget_marking();
  said_->setText(tr("%1 is on the bench.").arg(text_of(part->name)) + with + taken);
  choose({ThingKind::device, device});
}

void BenchView::take_away_chosen() {
  if (!chosen_) return;
  const Thing gone = *chosen_;
  said_->setText(tr("%1 is off the bench. Ctrl+Z brings it back.").arg(text_of(name_of(workbench_.bench(), gone))));
  workbench_.document().edit(tr("Take off the bench"), [&](Bench& bench) { take_away(bench, gone); });
}

void BenchView::open_chosen() {
  if (!chosen_) return;
  const Thing thing = *chosen_;
  thing.kind == ThingKind::bus ? emit bus_wanted(thing.id) : emit channel_wanted(thing.id);
}

}  // namespace fair_gauge::app

#include "moc_bench_view.cpp"
