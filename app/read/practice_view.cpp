#include "read/practice_view.h"

#include <QDate>
#include <QRandomGenerator>
#include <QSettings>

#include "language/translation.h"
#include "widgets/form.h"

namespace fair_gauge::app {
namespace {

constexpr int most_kept = 200;

// The codes of mistakes and faults, and what people read for them.
struct NamedCode {
  std::string_view code;
  const char* name;
};
constexpr NamedCode named_codes[] = {{"leads-exchanged", to_translate("Leads exchanged")},
                                     {"ports-exchanged", to_translate("Ports exchanged")},
                                     {"absolute-gauge", to_translate("Absolute gauge")},
                                     {"ambient-twice", to_translate("Ambient twice")},
                                     {"beta", to_translate("Beta")},
                                     {"byte-missing", to_translate("Byte missing")},
                                     {"bytes-added", to_translate("Bytes added")},
                                     {"bytes-swapped", to_translate("Bytes swapped")},
                                     {"checksum-ignored", to_translate("Checksum ignored")},
                                     {"clipped", to_translate("Clipped")},
                                     {"cold-junction-as-temperature", to_translate("Cold junction as temperature")},
                                     {"cold-junction-forgotten", to_translate("Cold junction forgotten")},
                                     {"correction-forgotten", to_translate("Correction forgotten")},
                                     {"correction-sign", to_translate("Correction sign")},
                                     {"correction-twice", to_translate("Correction twice")},
                                     {"disconnected", to_translate("Disconnected")},
                                     {"divisor", to_translate("Divisor")},
                                     {"excitation", to_translate("Excitation")},
                                     {"fraction-dropped", to_translate("Fraction dropped")},
                                     {"full-scale", to_translate("Full scale")},
                                     {"gain", to_translate("Gain")},
                                     {"integer-division", to_translate("Integer division")},
                                     {"integration-time", to_translate("Integration time")},
                                     {"justification", to_translate("Justification")},
                                     {"kelvin-forgotten", to_translate("Kelvin forgotten")},
                                     {"logarithm-base", to_translate("Logarithm base")},
                                     {"missing", to_translate("Missing")},
                                     {"no-pull-up", to_translate("No pull up")},
                                     {"no-response", to_translate("No response")},
                                     {"not-ready", to_translate("Not ready")},
                                     {"not-shifted", to_translate("Not shifted")},
                                     {"offset-forgotten", to_translate("Offset forgotten")},
                                     {"offset-twice", to_translate("Offset twice")},
                                     {"open", to_translate("Open lead")},
                                     {"power-on-default", to_translate("Power on default")},
                                     {"reference", to_translate("Reference")},
                                     {"reference-nominal", to_translate("Reference nominal")},
                                     {"reference-not-selected", to_translate("Reference not selected")},
                                     {"resistor-side", to_translate("Resistor side")},
                                     {"resistor-value", to_translate("Resistor value")},
                                     {"saturated", to_translate("Saturated")},
                                     {"scale-of-hundred", to_translate("Scale of hundred")},
                                     {"scale-of-ten", to_translate("Scale of ten")},
                                     {"scaled-bits", to_translate("Scaled bits")},
                                     {"self-heating", to_translate("Self heating")},
                                     {"setting", to_translate("Setting")},
                                     {"short", to_translate("Shorted leads")},
                                     {"sign-magnitude", to_translate("Sign magnitude")},
                                     {"signed-read-as-unsigned", to_translate("Signed read as unsigned")},
                                     {"slope", to_translate("Slope")},
                                     {"spikes", to_translate("Spikes")},
                                     {"stale-temperature", to_translate("Stale temperature")},
                                     {"stuck", to_translate("Stuck")},
                                     {"supply", to_translate("Supply")},
                                     {"trimming-order", to_translate("Trimming order")},
                                     {"trimming-sign", to_translate("Trimming sign")},
                                     {"unit-fahrenheit", to_translate("Unit fahrenheit")},
                                     {"unit-kelvin", to_translate("Unit kelvin")},
                                     {"unit-pressure", to_translate("Unit pressure")},
                                     {"unsigned-read-as-signed", to_translate("Unsigned read as signed")},
                                     {"wrong-channel", to_translate("Wrong channel")},
                                     {"wrong-part", to_translate("Wrong part")}};

QString words_of_code(const std::string& code) {
  const auto* named = std::ranges::find(named_codes, code, &NamedCode::code);
  return named == std::end(named_codes) ? text_of(code) : text_of(translated(named->name));
}

}  // namespace

PracticeView::PracticeView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  QLayout* left = build_left();
  setLayout(asked_and_found(theme, left, 240, build_right()));
  connect(&workbench, &Workbench::selection_changed, this, [this] {
    if (isVisible()) follow_channel();
  });
  connect(&workbench, &Workbench::bench_changed, this, [this] {
    if (isVisible()) follow_channel();
  });
  show_case();
  show_found();
}

QLayout* PracticeView::build_left() {
  title_ = new Text(theme_, Face::strong);
  title_->setWordWrap(true);
  auto* form = new Form(theme_);
  level_ = form->add_choice(tr("How hard"),
                            tr("By how many usual mistakes explain what is shown: one, two or three, or more"),
                            {tr("plain"), tr("doubtful"), tr("tangled")}, "practice_level", [](int) {});
  new_ = new QPushButton(tr("Hide a mistake"));
  new_->setObjectName(QStringLiteral("practice_new"));
  new_->setProperty("primary", true);
  new_->setToolTip(tr("One usual mistake is made on a copy of this channel; your bench stays as it is"));
  connect(new_, &QPushButton::clicked, this, [this] { draw(QRandomGenerator::global()->generate64()); });
  found_ = new Text(theme_, Face::small, {}, Tint::quiet);
  found_->setObjectName(QStringLiteral("practice_found"));
  found_->setWordWrap(true);
  auto* left = column(8);
  left->addWidget(title_);
  left->addWidget(form);
  left->addWidget(new_, 0, Qt::AlignLeft);
  left->addSpacing(16);
  left->addLayout(build_what_if());
  left->addSpacing(16);
  left->addWidget(found_);
  left->addStretch();
  return left;
}

QLayout* PracticeView::build_what_if() {
  what_if_ = choice_box({}, "what_if", tr("What if it had this fault"));
  what_if_->setToolTip(tr("The simulation has it until you take it back; your bench stays as it is"));
  what_if_->setPlaceholderText(tr("choose a fault"));
  what_if_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  connect(what_if_, &QComboBox::activated, this, &PracticeView::put_in);
  fault_ = new Text(theme_, Face::small, {}, Tint::quiet);
  fault_->setObjectName(QStringLiteral("what_if_words"));
  fault_->setWordWrap(true);
  take_back_ = new QPushButton(tr("Take it back"));
  take_back_->setObjectName(QStringLiteral("what_if_back"));
  take_back_->setProperty("quiet", true);
  connect(take_back_, &QPushButton::clicked, &workbench_, &Workbench::take_fault_back);
  connect(&workbench_, &Workbench::source_changed, this, &PracticeView::show_fault);
  connect(&workbench_, &Workbench::values_changed, this, [this] {
    if (isVisible() && workbench_.fault_put_in()) show_fault();
  });
  auto* all = column(8);
  auto* what_if = new Text(theme_, Face::strong, tr("What if…"));
  what_if->setBuddy(what_if_);
  all->addWidget(what_if);
  all->addWidget(what_if_);
  all->addWidget(fault_);
  all->addWidget(take_back_, 0, Qt::AlignLeft);
  return all;
}

QLayout* PracticeView::build_right() {
  given_ = new Text(theme_, Face::title);
  given_->setObjectName(QStringLiteral("practice_given"));
  given_->setWordWrap(true);
  count_ = new Text(theme_, Face::label, {}, Tint::quiet);
  count_->setObjectName(QStringLiteral("practice_count"));
  probes_ = column(4);
  findings_ = column(4);
  asking_ = new QWidget;
  auto* asking = column(8);
  asking->addWidget(count_);
  asking->addLayout(findings_);
  asking->addLayout(probes_);
  asking_->setLayout(asking);
  answer_ = choice_box({}, "practice_answer", tr("The mistake"));
  name_ = new QPushButton(tr("That is it"));
  name_->setObjectName(QStringLiteral("practice_name"));
  connect(name_, &QPushButton::clicked, this, &PracticeView::name);
  auto* naming = row(8);
  naming->addWidget(new Text(theme_, Face::text, tr("The mistake:")));
  naming->addWidget(answer_);
  naming->addWidget(name_);
  naming->addStretch();
  naming_ = new QWidget;
  naming_->setLayout(naming);
  verdict_ = new Text(theme_, Face::strong);
  verdict_->setObjectName(QStringLiteral("practice_verdict"));
  verdict_->setWordWrap(true);
  lesson_ = column(2);
  auto* right = column(16);
  right->addWidget(given_);
  right->addWidget(asking_);
  right->addWidget(naming_);
  right->addWidget(verdict_);
  right->addLayout(lesson_);
  right->addStretch();
  return right;
}

void PracticeView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  follow_channel();
}

// A case that was begun stays until another is drawn: its channel stands in the title.
void PracticeView::follow_channel() {
  const ChannelView& chosen = workbench_.chosen();
  new_->setEnabled(chosen.channel && chosen.chain);
  list_faults();
  if (case_) return;
  show_case();
}

// What the chosen channel can have.
void PracticeView::list_faults() {
  const ChannelView& chosen = workbench_.chosen();
  if (!chosen.channel) {
    choices_.clear();
    what_if_->clear();
    return show_fault();
  }
  listing_.start(
      [bench = std::make_shared<const Bench>(workbench_.bench()), catalogue = workbench_.shared_catalogue(),
       channel = chosen.channel->id](const std::atomic<bool>&) {
        return InjectedFault::choices(bench, catalogue, channel);
      },
      [this](Result<std::vector<InjectedFault::Choice>> choices) {
        auto found = choices ? std::move(*choices) : std::vector<InjectedFault::Choice>();
        // The same list stays: somebody may be choosing in it.
        if (!std::ranges::equal(found, choices_, {}, &InjectedFault::Choice::name, &InjectedFault::Choice::name)) {
          what_if_->clear();
          for (const auto& each : found) what_if_->addItem(words_of_code(each.name));
        }
        choices_ = std::move(found);
        show_fault();
      });
}

void PracticeView::put_in(int choice) {
  const ChannelView& chosen = workbench_.chosen();
  if (choice < 0 || static_cast<std::size_t>(choice) >= choices_.size() || !chosen.channel) return;
  making_.start([bench = std::make_shared<const Bench>(workbench_.bench()), catalogue = workbench_.shared_catalogue(),
                 channel = chosen.channel->id, name = choices_[static_cast<std::size_t>(choice)].name](
                    const std::atomic<bool>&) { return InjectedFault::of_name(bench, catalogue, channel, name); },
                [this](Result<InjectedFault> fault) {
                  if (!fault) return fault_->setText(sentence(to_text(fault.problem())));
                  workbench_.put_in(std::make_shared<const InjectedFault>(std::move(*fault)));
                });
}

void PracticeView::show_fault() {
  const InjectedFault* fault = workbench_.fault_put_in();
  const ChannelView& chosen = workbench_.chosen();
  const bool is_here = fault && chosen.channel && fault->channel() == chosen.channel->id;
  const auto at = is_here ? std::ranges::find(choices_, fault->name(), &InjectedFault::Choice::name) : choices_.end();
  // One that is being made is what was chosen last.
  if (!making_.is_running())
    what_if_->setCurrentIndex(at == choices_.end() ? -1 : static_cast<int>(at - choices_.begin()));
  what_if_->setEnabled(!choices_.empty());
  take_back_->setVisible(fault != nullptr);
  if (!fault) return fault_->setText(tr("The simulation takes a fault of your choice, live."));
  const auto name = [this](const std::string& id) {
    const Channel* channel = find_by_id(workbench_.bench().channels, id);
    return text_of(channel && !channel->name.empty() ? channel->name : id);
  };
  QString words = tr("%1: %2").arg(name(fault->channel()), sentence(fault->words()));
  if (workbench_.listens_to_line())
    words += QLatin1Char(' ') + tr("A board is listened to: the simulation is not seen now.");
  const ChannelView& view = workbench_.view(fault->channel());
  const auto truth = workbench_.simulated_truth(fault->channel());
  if (view.raw && view.chain && truth) {
    const Unit& unit = *view.chain->shown;
    const auto shown = [&](double value) {
      if (!std::isfinite(value)) return tr("no number");
      return text_of(with_unit(value, Workbench::decimals_of(view), unit.symbol, workbench_.style()));
    };
    words += QLatin1Char(' ') + tr("It truly is %1, this bench reads %2.")
                                    .arg(shown(unit.from_base(*truth)),
                                         shown(view.reading ? unit.from_base(*view.reading) : std::nan("")));
    if (fault->is_of_arithmetic())
      words += QLatin1Char(' ') + tr("The firmware would show %1.").arg(shown(fault->mistake()->shows(*view.raw)));
  }
  fault_->setText(words);
}

void PracticeView::draw(std::uint64_t seed) {
  const ChannelView& chosen = workbench_.chosen();
  if (!chosen.channel || !chosen.chain) return;
  channel_ = chosen.channel->id;
  case_.reset();
  is_named_ = false;
  show_case();
  given_->setText(tr("Something is being done to the bench…"));
  drawing_.start([bench = std::make_shared<const Bench>(workbench_.bench()), catalogue = workbench_.shared_catalogue(),
                  channel = channel_, level = static_cast<PracticeLevel>(std::max(0, level_->currentIndex())), seed](
                     const std::atomic<bool>&) { return PracticeCase::draw(bench, catalogue, channel, level, seed); },
                 [this](Result<PracticeCase> drawn) {
                   if (!drawn) return given_->setText(sentence(to_text(drawn.problem())));
                   case_ = std::move(*drawn);
                   show_case();
                 });
}

void PracticeView::show_case() {
  clear(probes_);
  clear(findings_);
  clear(lesson_);
  verdict_->clear();
  answer_->clear();
  asking_->setVisible(case_.has_value());
  naming_->setVisible(case_.has_value());
  const ChannelView& chosen = workbench_.chosen();
  if (!case_) {
    title_->setText(chosen.channel ? text_of(called(*chosen.channel)) : tr("Practise"));
    return given_->setText(
        chosen.channel
            ? tr("Hide a mistake: it is made on a copy of this channel, and you find it by measuring.")
            : tr("This bench has no channels yet. Once one stands here, a mistake is hidden in a copy of it, and you "
                 "find it by measuring."));
  }
  const NumberStyle& style = workbench_.style();
  const Channel& channel = case_->made().believed().channel;
  title_->setText(text_of(called(channel)));
  given_->setText(tr("The firmware shows %1. A good reference beside it reads %2.")
                      .arg(text_of(case_->shown(style)), text_of(case_->reference(style))));
  count_->setText(tr("WHAT DO YOU MEASURE?"));
  for (const PracticeProbe& probe : case_->probes()) {
    auto* ask = new QPushButton(sentence(probe.words).chopped(1));
    ask->setObjectName(QStringLiteral("practice_") + text_of(probe.id));
    ask->setProperty("quiet", true);
    connect(ask, &QPushButton::clicked, this, [this, probe, ask] { measure(probe, ask); });
    probes_->addWidget(ask, 0, Qt::AlignLeft);
  }
  for (const std::string& code : case_->choices()) answer_->addItem(words_of_code(code), text_of(code));
  answer_->setCurrentIndex(-1);
  answer_->setPlaceholderText(tr("choose one"));
  name_->setEnabled(true);
}

void PracticeView::measure(const PracticeProbe& probe, QPushButton* asked) {
  const QString found = text_of(case_->measure(probe.id, workbench_.style()));
  asked->hide();
  auto* line = row(12);
  auto* what = new Text(theme_, Face::text, sentence(probe.words).chopped(1), Tint::quiet);
  auto* value = new Text(theme_, Face::number_small, found);
  value->setObjectName(QStringLiteral("practice_value_") + text_of(probe.id));
  value->let_select();
  value->setWordWrap(true);
  what->setFixedWidth(theme_.px(240));
  what->setWordWrap(true);
  line->addWidget(what, 0, Qt::AlignTop);
  line->addWidget(value, 1, Qt::AlignTop);
  findings_->addLayout(line);
  count_->setText(case_->measurements() == 1 ? tr("1 MEASUREMENT SO FAR")
                                             : tr("%1 MEASUREMENTS SO FAR").arg(case_->measurements()));
}

void PracticeView::name() {
  if (!case_ || answer_->currentIndex() < 0) return verdict_->setText(tr("Choose a mistake first."));
  const PracticeVerdict verdict = case_->name(answer_->currentData().toString().toStdString());
  clear(lesson_);
  if (!verdict.right) {
    verdict_->set_tint(Tint::amber);
    return verdict_->setText(tr("No: that would show another number, here or at another place. Measure on."));
  }
  verdict_->set_tint(Tint::accent);
  verdict_->setText(
      verdict.equal
          ? tr("It comes to the same here: no measurement tells them apart. Made was: %1").arg(sentence(verdict.words))
          : tr("Found. %1").arg(sentence(verdict.words)));
  for (const std::string& line : verdict.arithmetic) {
    auto* label = new Text(theme_, Face::code, text_of(line), Tint::quiet);
    label->setWordWrap(true);
    lesson_->addWidget(label);
  }
  lesson_->addSpacing(8);
  auto* mend = new Text(theme_, Face::text, tr("Mend it: %1.").arg(text_of(verdict.fix)));
  mend->setWordWrap(true);
  lesson_->addWidget(mend);
  name_->setEnabled(false);
  clear(probes_);  // nothing is left to be asked
  if (!is_named_) keep_found();
  is_named_ = true;
}

void PracticeView::keep_found() {
  QSettings settings;
  QStringList found = settings.value(QStringLiteral("practice/found")).toStringList();
  found << QStringLiteral("%1|%2|%3|%4")
               .arg(QDate::currentDate().toString(Qt::ISODate), text_of(case_->made().code()), text_of(channel_))
               .arg(case_->measurements());
  while (found.size() > most_kept) found.removeFirst();
  settings.setValue(QStringLiteral("practice/found"), found);
  show_found();
}

void PracticeView::show_found() {
  const QStringList found = QSettings().value(QStringLiteral("practice/found")).toStringList();
  if (found.isEmpty()) return found_->setText(tr("What you find is listed here, with how many measurements it took."));
  constexpr qsizetype latest = 8;
  QStringList lines;
  for (auto each = found.crbegin(); each != found.crend() && lines.size() < latest; ++each) {
    const QStringList parts = each->split(QLatin1Char('|'));
    if (parts.size() == 4) lines << tr("%1, measured: %2").arg(words_of_code(parts[1].toStdString()), parts[3]);
  }
  found_->setText(tr("Found so far, the latest first:") + QLatin1Char('\n') + lines.join(QLatin1Char('\n')));
}

}  // namespace fair_gauge::app

#include "moc_practice_view.cpp"
