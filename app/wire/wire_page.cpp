#include "wire/wire_page.h"

#include <QComboBox>
#include <QListView>
#include <QPushButton>
#include <QScrollArea>

#include <algorithm>
#include <cmath>

#include "diagnose/behind_value.h"
#include "diagnose/other_ways.h"
#include "parts/expression.h"
#include "wire/curve_builder.h"
#include "wire/meter_view.h"
#include "wire/schematic.h"
#include "wire/sizing_panel.h"

namespace fair_gauge::app {

WirePage::WirePage(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  setObjectName(QStringLiteral("page"));
  setAttribute(Qt::WA_StyledBackground);
  title_ = new Text(theme, Face::title);
  title_->setWordWrap(true);  // beside the views' buttons, at large text
  title_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  subtitle_ = new Text(theme, Face::small, {}, Tint::quiet);
  subtitle_->setWordWrap(true);
  build_views();
  build_side();
  build_arithmetic();
  auto* upper = row(16);
  upper->addWidget(views_, 1);
  upper->addWidget(side_box_);
  auto* all = column(4);
  all->setContentsMargins(24, 12, 16, 8);
  auto* head = row(8);
  head->addWidget(title_, 1);
  title_space_ = new QSpacerItem(0, 0);
  head->addItem(title_space_);
  head->addWidget(tabs_);
  all->addLayout(head);
  all->addWidget(subtitle_);
  all->addLayout(upper, 1);
  all->addSpacing(4);
  all->addWidget(arithmetic_title_);
  all->addWidget(arithmetic_box_);
  all->addWidget(convention_);
  setLayout(all);

  connect(&workbench, &Workbench::selection_changed, this, [this] {
    rebuild_fields();
    refresh();
  });
  connect(&workbench, &Workbench::values_changed, this, &WirePage::refresh);
  connect(&workbench, &Workbench::bench_changed, this, [this] {
    const auto rows = fields_of_stage(workbench_.stage(), workbench_);
    const bool same =
        std::ranges::equal(rows, rows_, [](const FieldRow& a, const FieldRow& b) { return a.label == b.label; });
    if (same)
      rows_ = rows;
    else
      rebuild_fields();
  });
  show_view(0);
  rebuild_fields();
  refresh();
}

void WirePage::build_views() {
  plot_ = new TransferPlot(theme_, workbench_);
  views_ = new Views;
  views_->add([this] { return plot_; });
  views_->add([this] {
    auto* schematic = new Schematic(theme_, workbench_);
    connect(schematic, &Schematic::echo_changed, this, [this](const QString& echo, bool faulty) {
      echo_->setText(echo);
      echo_->set_tint(faulty ? Tint::red : Tint::second);
    });
    return schematic;
  });
  views_->add([this] { return scrolled(new SizingPanel(theme_, workbench_)); });
  views_->add([this] { return scrolled(new CurveBuilder(theme_, workbench_)); });
  views_->add([this] {
    auto* meter = new MeterView(theme_, workbench_);
    connect(meter, &MeterView::note_wanted, this, &WirePage::note_wanted);
    return scrolled(meter);
  });
  tabs_ = new ViewTabs(view_names());
  connect(tabs_, &ViewTabs::chosen, this, &WirePage::show_view);
}

// What the chosen stage is made of.
void WirePage::build_side() {
  fields_title_ = new Text(theme_, Face::label, {}, Tint::quiet);
  fields_ = new QGridLayout;
  fields_->setContentsMargins(0, 0, 0, 0);
  fields_->setHorizontalSpacing(8);
  fields_->setVerticalSpacing(4);
  fields_->setColumnStretch(0, 4);
  fields_->setColumnStretch(1, 5);
  echo_ = new Text(theme_, Face::small, {}, Tint::second);
  echo_->setWordWrap(true);
  echo_->setObjectName(QStringLiteral("echo"));
  auto* side = column(8);
  side->setContentsMargins(0, 8, 0, 0);
  side->addWidget(fields_title_);
  side->addLayout(fields_);
  side->addWidget(echo_);
  side->addStretch();
  auto* side_inside = new QWidget;
  side_inside->setLayout(side);
  side_box_ = scrolled(side_inside);
  side_box_->setFixedWidth(theme_.column_px(288));
  connect(&theme_, &Theme::changed, this, [this] { side_box_->setFixedWidth(theme_.column_px(288)); });
}

void WirePage::build_arithmetic() {
  arithmetic_title_ = new Text(theme_, Face::strong);
  arithmetic_ = new QGridLayout;
  arithmetic_->setContentsMargins(0, 0, 0, 0);
  arithmetic_->setHorizontalSpacing(16);
  arithmetic_->setVerticalSpacing(2);
  arithmetic_->setColumnStretch(0, 3);
  arithmetic_->setColumnStretch(2, 2);
  convention_ = new Text(theme_, Face::small, {}, Tint::quiet);
  convention_->setObjectName(QStringLiteral("convention"));
  convention_->setWordWrap(true);
  arithmetic_box_ = new QWidget;
  arithmetic_box_->setLayout(arithmetic_);
}

void WirePage::give(const FieldRow& row, const std::function<void(ChannelPieces&)>& change) {
  workbench_.document().edit(row.label, [&](Bench& bench) {
    ChannelPieces pieces = pieces_of(bench, workbench_.channel_id());
    change(pieces);
  });
}

QWidget* WirePage::editor_of(const FieldRow& row) {
  if (const auto* quantity = std::get_if<QuantityRow>(&row.kind)) {
    auto* field = new QuantityField(theme_, quantity->dimension);
    field->setFont(theme_.font(Face::number_small));
    field->set_unit(*quantity->unit);
    connect(field, &QuantityField::echo_changed, this, [this](const QString& echo, bool faulty) {
      echo_->setText(echo);
      echo_->set_tint(faulty ? Tint::red : Tint::second);
    });
    connect(field, &QuantityField::value_given, this, [this, row, field](double base) {
      const auto& kind = std::get<QuantityRow>(row.kind);
      if (base < kind.least || base > kind.most) {
        echo_->setText(tr("%1 cannot be: %2").arg(field->text(), limits_of_row(kind, workbench_.style())));
        echo_->set_tint(Tint::red);
        return;
      }
      const auto change = [&](ChannelPieces pieces) { kind.set(pieces, kind.is_fraction ? base / 100 : base); };
      // What leaves no chain is not taken: with it would go the field in which it can be mended.
      Bench tried = workbench_.bench();
      change(pieces_of(tried, workbench_.channel_id()));
      const auto chain = build_chain(tried, workbench_.catalogue(), workbench_.channel_id());
      if (!chain && workbench_.chosen().chain) {
        echo_->setText(text_of(to_text(chain.problem())));
        echo_->set_tint(Tint::red);
        return;
      }
      give(row, change);
      refresh_fields();
    });
    if (quantity->forget)
      field->set_emptied(tr("not measured"), [this, row] {
        give(row, [&](ChannelPieces& pieces) { std::get<QuantityRow>(row.kind).forget(pieces); });
        refresh_fields();
      });
    return field;
  }
  if (const auto* choice = std::get_if<ChoiceRow>(&row.kind)) {
    auto* box = new QComboBox;
    box->setView(new QListView);
    for (const QString& each : choice->choices) box->addItem(in_own_marks(each));
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(10);
    connect(box, &QComboBox::activated, this, [this, row](int index) {
      give(row, [&](ChannelPieces& pieces) { std::get<ChoiceRow>(row.kind).set(pieces, index); });
    });
    return box;
  }
  auto* field = new QLineEdit;
  connect(field, &QLineEdit::editingFinished, this, [this, row, field] {
    if (const auto& wrong = std::get<WordsRow>(row.kind).wrong) {
      Bench bench = workbench_.bench();
      const auto problem = wrong(pieces_of(bench, workbench_.channel_id()), field->text().toStdString());
      echo_->setText(problem ? text_of(to_text({problem->wrong, problem->expected})) : QString());
      echo_->set_tint(Tint::red);
      if (problem) return;
    }
    give(row, [&](ChannelPieces& pieces) { std::get<WordsRow>(row.kind).set(pieces, field->text().toStdString()); });
  });
  return field;
}

void WirePage::rebuild_fields() {
  QString in_hand;  // the row that has the keys keeps them, where it is there again
  for (std::size_t i = 0; i < editors_.size(); ++i)
    if (window()->focusWidget() == editors_[i]) in_hand = rows_[i].label;
  clear(fields_);
  editors_.clear();
  echo_->clear();
  rows_ = fields_of_stage(workbench_.stage(), workbench_);
  const bool arrives = workbench_.stage() == StageName::raw && workbench_.chosen().channel &&
                       workbench_.chosen().channel->arrives_converted();
  fields_title_->setText(arrives ? tr("ARRIVES") : text_of(stage_title(workbench_.stage())).toUpper());
  for (int i = 0; i < static_cast<int>(rows_.size()); ++i) {
    const FieldRow& field_row = rows_[static_cast<std::size_t>(i)];
    auto* label = new Text(theme_, Face::small, field_row.label);
    label->setToolTip(in_own_marks(field_row.why));
    label->setWordWrap(true);
    QWidget* editor = editor_of(field_row);
    editor->setToolTip(in_own_marks(field_row.why));
    editor->setAccessibleName(field_row.label);
    editor->setObjectName(QStringLiteral("field_%1").arg(i));
    // Long choices take both columns, below their label.
    const auto* choice = std::get_if<ChoiceRow>(&field_row.kind);
    const bool long_choice =
        choice && std::ranges::any_of(choice->choices, [](const QString& text) { return text.size() > 24; });
    fields_->addWidget(label, 2 * i, 0, 1, long_choice ? 2 : 1);
    fields_->addWidget(editor, 2 * i + (long_choice ? 1 : 0), long_choice ? 0 : 1, 1, long_choice ? 2 : 1);
    editors_.push_back(editor);
    if (field_row.label == in_hand) editor->setFocus();
  }
  refresh_fields();
}

void WirePage::refresh_fields() {
  Bench bench = workbench_.bench();
  const ChannelPieces pieces = pieces_of(bench, workbench_.channel_id());
  if (!pieces.channel) return;
  for (std::size_t i = 0; i < rows_.size() && i < editors_.size(); ++i) {
    if (const auto* quantity = std::get_if<QuantityRow>(&rows_[i].kind)) {
      const double value = quantity->get(pieces);
      static_cast<QuantityField*>(editors_[i])->show_value(value, text_of_row(*quantity, value, workbench_.style()));
    } else if (const auto* choice = std::get_if<ChoiceRow>(&rows_[i].kind)) {
      auto* box = static_cast<QComboBox*>(editors_[i]);
      if (box->count() == choice->choices.size()) box->setCurrentIndex(choice->get(pieces));
    } else if (auto* line = static_cast<QLineEdit*>(editors_[i]); !line->hasFocus()) {
      line->setText(text_of(std::get<WordsRow>(rows_[i].kind).get(pieces)));
    }
  }
}

QStringList WirePage::view_names() { return {tr("Curve"), tr("Circuit"), tr("Values"), tr("Own curve"), tr("Meter")}; }

void WirePage::show_view(int view) {
  views_->show_view(view);
  tabs_->mark(view);
  arrange();
  refresh();
}

void WirePage::arrange() {
  const int view = views_->currentIndex();
  const bool tight = height() < theme_.px(380);         // large text in a small window: the drawing needs the place
  const bool wide = view >= 2 || (view == 1 && tight);  // finding and building take the whole width
  side_box_->setVisible(!wide);
  arithmetic_title_->setVisible(!wide);
  arithmetic_box_->setVisible(!wide);
  convention_->setVisible(!wide);
  subtitle_->setVisible(!wide && !tight);
  title_->setVisible(!tight);
  title_space_->changeSize(0, 0, tight ? QSizePolicy::Expanding : QSizePolicy::Minimum, QSizePolicy::Minimum);
}

void WirePage::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  arrange();
}

void WirePage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void WirePage::refresh() {
  if (!isVisible()) return;
  const ChannelView& view = workbench_.chosen();
  const bool converted = view.channel && view.channel->arrives_converted();
  title_->setText(!view.channel ? tr("No channel")
                  : converted   ? tr("From the world to what arrives, and back")
                                : tr("From the world to counts, and back"));
  if (view.chain && view.chain->derived) {
    const Channel& first = view.chain->inputs.front()->channel;
    subtitle_->setText(
        tr("Worked out. What stands between the world and the counts belongs to %1, and is changed there.")
            .arg(text_of(called(first))));
  } else if (view.chain) {
    const Unit& shown = *view.chain->shown;
    subtitle_->setText(
        tr("Wanted %1 to %2. Drag the point, or type over any number of the strip; Esc returns to the live reading.")
            .arg(text_of(with_unit(shown.from_base(view.channel->wanted.from), 0, shown.symbol, workbench_.style())),
                 text_of(with_unit(shown.from_base(view.channel->wanted.to), 0, shown.symbol, workbench_.style()))));
  } else {
    subtitle_->clear();
  }
  refresh_fields();
  refresh_arithmetic();
}

void WirePage::refresh_arithmetic() {
  const ChannelView& view = workbench_.chosen();
  std::vector<TraceLine> lines;
  if (view.chain && view.raw)
    for (const StageTrace& trace : explain(*view.chain, *view.raw, workbench_.style()))
      lines.insert(lines.end(), trace.lines.begin(), trace.lines.end());
  while (arithmetic_->count() < static_cast<int>(lines.size()) * 3) {
    const int at = arithmetic_->count() / 3;
    for (const int place : {0, 1, 2}) {
      auto* text = new Text(theme_, place == 2 ? Face::small : Face::code, {},
                            place == 1   ? Tint::accent
                            : place == 2 ? Tint::quiet
                                         : Tint::ink);
      text->let_select();
      if (place != 1) text->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
      text->setWordWrap(place == 0);
      arithmetic_->addWidget(text, at, place);
    }
  }
  for (int i = 0; i < arithmetic_->count() / 3; ++i) {
    const bool used = i < static_cast<int>(lines.size());
    const auto* line = used ? &lines[static_cast<std::size_t>(i)] : nullptr;
    const QString texts[] = {used ? text_of(line->expression) : QString(),
                             used ? QStringLiteral("= ") + text_of(line->result) : QString(),
                             used ? text_of(line->note) : QString()};
    for (int place = 0; place < 3; ++place) {
      auto* text = static_cast<Text*>(arithmetic_->itemAtPosition(i, place)->widget());
      text->setVisible(used);
      text->setText(texts[place]);
    }
  }
  const bool arrives = view.channel && view.channel->arrives_converted();
  if (!view.chain || !view.raw || !view.reading || (lines.empty() && !arrives)) {
    arithmetic_title_->setText(view.chain && !view.reading ? sentence(to_text(view.reading.problem())) : QString());
    convention_->clear();
    return;
  }
  const Unit& shown = *view.chain->shown;
  const Channel& channel = view.chain->channel;
  const QString arrived = arrives
                              ? text_of(with_unit(*view.raw, channel.arrives->decimals,
                                                  view.chain->stage(StageName::raw)->unit->symbol, workbench_.style()))
                              : (view.chain->converter->counts() == "pulses" ? tr("%1 pulses") : tr("%1 counts"))
                                    .arg(text_of(fixed(*view.raw, 0, workbench_.style())));
  arithmetic_title_->setText(
      tr("How %1 became %2")
          .arg(arrived, text_of(with_unit(shown.from_base(*view.reading), Workbench::decimals_of(view), shown.symbol,
                                          workbench_.style()))));
  convention_->setText(arrives                       ? words_of_behind()
                       : words_of_simple().isEmpty() ? words_of_divisor()
                                                     : words_of_simple());
}

// What the sheet's short formula makes of the same pulses, here and at worst over the wanted range.
QString WirePage::words_of_simple() const {
  const ChannelView& view = workbench_.chosen();
  const Part* part = workbench_.catalogue().find(view.chain->part_id);
  if (!part || part->transfer.simple.empty() || !view.chain->converter->counts_pulses()) return {};
  const auto simple = Expression::read(part->transfer.simple);
  if (!simple) return {};
  const NumberStyle& style = workbench_.style();
  const QString symbol = text_of(difference_symbol(*view.chain->base));
  double worst = 0;
  constexpr int places = 50;
  for (int i = 0; i <= places; ++i) {
    const double world = view.channel->wanted.from + (view.channel->wanted.to - view.channel->wanted.from) * i / places;
    const auto raw = raw_for(*view.chain, world);
    const auto reading = raw ? read_raw(*view.chain, *raw) : raw;
    if (!reading) continue;
    if (const double off = simple->at(*raw) - *reading; std::abs(off) > std::abs(worst)) worst = off;
  }
  const double off = simple->at(*view.raw) - *view.reading;
  return tr("By the sheet's short formula, %1 of the pulses x, the same pulses would read %2 %4 different; over the "
            "wanted range up to %3 %4.")
      .arg(text_of(part->transfer.simple), text_of(fixed(off, decimals_of_two_digits(off), style)),
           text_of(fixed(worst, decimals_of_two_digits(worst), style)), symbol);
}

// What the same counts would read by the other divisor.
QString WirePage::words_of_divisor() const {
  const ChannelView& view = workbench_.chosen();
  const Unit& shown = *view.chain->shown;
  constexpr std::string_view divisor[] = {"divisor"};
  const auto ways =
      other_ways(workbench_.bench(), workbench_.catalogue(), workbench_.channel_id(), {.raw = *view.raw}, divisor);
  const Device* device = find_by_id(workbench_.bench().devices, view.channel->device);
  const Converter* converter = device ? find_by_id(workbench_.bench().converters, device->converter) : nullptr;
  if (!ways || !converter) return {};
  // Where supply and reference are one the divisor cancels.
  const double difference = ways->empty() ? 0 : ways->front().value - shown.from_base(*view.reading);
  const bool by_steps = converter->convention != CodeConvention::steps;
  return tr("By %1 the same counts would read %2%3 %4 %5.")
      .arg(by_steps ? tr("2ⁿ steps") : tr("2ⁿ − 1 codes"), difference < 0 ? QString() : QStringLiteral("+"),
           text_of(fixed(difference, decimals_of_two_digits(difference), workbench_.style())),
           text_of(difference_symbol(shown)),
           difference == 0 ? tr("different: supply and reference are one") : tr("different"));
}

// The raw number that must have been behind what arrived, and what nobody can tell of the firmware that converted it.
QString WirePage::words_of_behind() const {
  const ChannelView& view = workbench_.chosen();
  const auto behind = behind_value(workbench_.bench(), workbench_.catalogue(), workbench_.channel_id(), *view.raw);
  if (!behind) return sentence(to_text(behind.problem()));
  const NumberStyle& style = workbench_.style();
  const Unit& shown = *view.chain->shown;
  const auto number = [&](double raw) { return text_of(fixed(raw, 0, style)); };
  const bool by_converter = behind->counts == "counts" || behind->counts == "pulses";
  const QString raw = by_converter ? number(behind->raw) + QLatin1Char(' ') + text_of(translated(behind->counts))
                                   : text_of(behind->counts) + QStringLiteral(" = ") + number(behind->raw);
  QString words = behind->least < behind->most
                      ? tr("Behind it stood %1 or another between %2 and %3: they all give these decimals.")
                            .arg(raw, number(behind->least), number(behind->most))
                      : tr("Behind it stood %1.").arg(raw);
  if (!behind->other) return words;
  const double arrived = view.chain->stage(StageName::raw)->unit->to_base(*view.raw);
  words += QLatin1Char(' ');
  if (std::abs(behind->other->reading - arrived) < 1e-9)
    return words + tr("Which divisor the firmware uses does not matter: supply and reference are one.");
  return words +
         tr("Which divisor does that firmware use? If it is %1, the sensor had %2. Its source or its author knows.")
             .arg(number(behind->other->divisor),
                  text_of(with_unit(shown.from_base(behind->other->reading), view.channel->arrives->decimals + 2,
                                    shown.symbol, style)));
}

}  // namespace fair_gauge::app

#include "moc_wire_page.cpp"
