#include "read/mistake_view.h"

#include <fmt/format.h>

#include <QPushButton>
#include <cmath>

#include "diagnose/next_measurement.h"
#include "digital/byte_text.h"
#include "language/translation.h"
#include "quantity/number_format.h"
#include "quantity/quantity_text.h"

namespace fair_gauge::app {
namespace {

constexpr int pause_ms = 250;  // after the last letter
constexpr std::size_t most_shown = 4;

// In the channel's unit, or with a unit of its own.
Result<double> number_in(const QString& text, const Chain& chain) {
  const std::string words = text.trimmed().toStdString();
  if (const auto plain = parse_number(words); plain && std::isfinite(*plain)) return *plain;
  const auto value = parse_quantity(words, chain.base->dimension, chain.shown);
  if (!value) return value.problem();
  return chain.shown->from_base(value->base);
}

// What a field lacks, with the field's name before it.
Problem of_field(const char* field, const Problem& problem) {
  return {fmt::format("{}: {}", field, problem.wrong), problem.expected};
}

int decimals_of(const QString& text) {
  const auto mark = std::max(text.indexOf(QLatin1Char('.')), text.indexOf(QLatin1Char(',')));
  int digits = 0;
  for (auto at = mark + 1; mark >= 0 && at < text.size() && text[at].isDigit(); ++at) ++digits;
  return digits;
}

}  // namespace

MistakeView::MistakeView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  title_ = new Text(theme, Face::strong);
  auto* left = column(4);
  left->addWidget(title_);
  left->addSpacing(4);
  input_ =
      add_field(left, tr("Raw number or bytes"),
                tr("As the line brings it: a number, or the bytes of the part's data blocks as hexadecimal digits"),
                "mistake_input");
  shown_ = add_field(left, tr("Your firmware shows"),
                     tr("With its digits as they stand: 24.60 is known to a hundredth. Empty if it shows nothing"),
                     "mistake_shown");
  expected_ = add_field(left, tr("It ought to be"),
                        tr("Give or take the channel's allowed error. Empty if you do not know"), "mistake_expected");
  reads_ = new Text(theme, Face::small, {}, Tint::quiet);
  reads_->setObjectName(QStringLiteral("mistake_reads"));
  reads_->setWordWrap(true);
  left->addSpacing(4);
  left->addWidget(reads_);
  measurements_ = column(4);
  left->addLayout(measurements_);
  left->addStretch();
  verdict_ = new Text(theme, Face::title);
  verdict_->setObjectName(QStringLiteral("mistake_verdict"));
  verdict_->setWordWrap(true);
  causes_ = column(12);
  auto* right = column(8);
  right->addWidget(verdict_);
  right->addLayout(causes_);
  right->addStretch();
  setLayout(asked_and_found(theme, left, 240, right));
  later_.setSingleShot(true);
  later_.setInterval(pause_ms);
  connect(&later_, &QTimer::timeout, this, &MistakeView::search);
  connect(&workbench, &Workbench::bench_changed, this, [this] {
    if (isVisible()) later_.start();
  });
  connect(&workbench, &Workbench::selection_changed, this, [this] {
    if (isVisible()) follow_channel();
  });
  connect(&workbench, &Workbench::values_changed, this, [this] {
    if (isVisible()) take_first_number();
  });
}

QLineEdit* MistakeView::add_field(QVBoxLayout* into, const QString& label, const QString& why, const char* name) {
  auto* words = new Text(theme_, Face::label, label, Tint::quiet);
  auto* field = new QLineEdit;
  field->setObjectName(QString::fromLatin1(name));
  field->setAccessibleName(label);
  field->setToolTip(in_own_marks(why));
  field->setFont(theme_.font(Face::number_small));
  words->setBuddy(field);
  into->addWidget(words);
  into->addWidget(field);
  connect(field, &QLineEdit::textEdited, this, [this] {
    forget_measured();
    later_.start();
  });
  return field;
}

void MistakeView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  follow_channel();
  take_first_number();
  if (channel_.empty())
    show_nothing(
        tr("This bench has no channels yet. Once one stands here, type its raw number and what your firmware shows: "
           "the usual mistakes are tried on it, and the one that explains the number is named."));
  if (!is_searching()) show_first_in_strip();
}

// Another channel has another number; what was typed for this one stays.
void MistakeView::follow_channel() {
  const ChannelView& chosen = workbench_.chosen();
  if (!chosen.channel || chosen.channel->id == channel_) return;
  channel_ = chosen.channel->id;
  forget_measured();
  title_->setText(text_of(called(*chosen.channel)));
  input_->clear();
  shown_->clear();
  expected_->clear();
  take_first_number();
  search();
}

// The latest number when the question is begun: it stands still while one thinks about it.
void MistakeView::take_first_number() {
  const ChannelView& chosen = workbench_.chosen();
  if (!chosen.channel || chosen.channel->id != channel_ || !chosen.raw || !input_->text().isEmpty()) return;
  if (input_->hasFocus()) return;  // somebody is about to type one
  const int decimals = chosen.channel->arrives_converted() ? chosen.channel->arrives->decimals : 0;
  input_->setText(QString::number(*chosen.raw, 'f', decimals));
  later_.start();
}

void MistakeView::hideEvent(QHideEvent* event) {
  leave_strip();
  QWidget::hideEvent(event);
}

// The strip holds the number that is asked about, and a cause's chain beside its own.
void MistakeView::show_in_strip(const std::string& code) {
  const auto cause = std::ranges::find(diagnosis_.causes, code, &Cause::code);
  const ChannelView& chosen = workbench_.chosen();
  if (cause == diagnosis_.causes.end() || !chosen.chain || chosen.channel->id != channel_) return;
  const Anchor anchor{chosen.chain->stage(StageName::raw) ? StageName::raw : StageName::converter, diagnosis_.raw};
  if (!workbench_.beside()) held_before_ = workbench_.anchor();
  workbench_.hold(anchor);
  workbench_.set_beside(ChainBeside{.channel = channel_,
                                    .anchor = anchor,
                                    .whose = diagnosis_.of_arithmetic ? tr("firmware") : tr("truly"),
                                    .decimals = decimals_of(shown_->text()),
                                    .values = cause->stages,
                                    .differs = first_difference(diagnosis_.stages, cause->stages)});
  for (const auto& [each, button] : in_strip_) {
    const QSignalBlocker blocked(button);
    button->setChecked(each == code);
    button->setText(each == code ? tr("Beside it in the strip above") : tr("Show it in the strip"));
  }
}

void MistakeView::show_first_in_strip() {
  const auto first = std::ranges::find_if(diagnosis_.causes, [](const Cause& cause) { return !cause.stages.empty(); });
  first == diagnosis_.causes.end() ? leave_strip() : show_in_strip(first->code);
}

void MistakeView::leave_strip() {
  // What was held before, a number that was typed, is held again.
  if (workbench_.beside()) held_before_ ? workbench_.hold(*held_before_) : workbench_.return_to_live();
  held_before_.reset();
  workbench_.set_beside(std::nullopt);
}

void MistakeView::take(double raw) {
  follow_channel();
  forget_measured();
  input_->setText(QString::number(std::round(raw), 'f', 0));
  later_.start();
}

Result<Question> MistakeView::question() const {
  const ChannelView& chosen = workbench_.chosen();
  if (!chosen.chain)
    return chosen.problem.value_or(Problem{translated("no channel is chosen"), translated("a channel of the shelf")});
  const Chain& chain = *chosen.chain;
  Question question;
  const std::string input = input_->text().trimmed().toStdString();
  if (input.empty())
    return Problem{translated("the raw number is missing"), translated("type it, or the bytes that came")};
  const auto typed = parse_quantity(input, Dimension::number);  // a firmware may print it as 0x751
  const auto number = !typed ? Result<double>(typed.problem()) : chain.decoder ? parse_number(input) : typed->base;
  const bool is_bytes = chain.decoder && (!number || input.find(' ') != std::string::npos || input.size() > 8);
  if (is_bytes) {
    auto bytes = read_hex(input);
    if (bytes) {
      question.bytes = std::move(*bytes);
    } else if (auto pasted = read_byte_text(input)) {
      question.bytes = std::move(pasted->bytes);
    } else {
      return of_field(translated("raw number or bytes"), bytes.problem());
    }
  } else if (number) {
    question.raw = *number;
  } else {
    return of_field(translated("raw number or bytes"), number.problem());
  }
  if (!shown_->text().trimmed().isEmpty()) {
    const auto shown = number_in(shown_->text(), chain);
    if (!shown) return of_field(translated("your firmware shows"), shown.problem());
    question.shown = *shown;
    question.decimals = decimals_of(shown_->text());
  }
  if (!expected_->text().trimmed().isEmpty()) {
    const auto expected = number_in(expected_->text(), chain);
    if (!expected) return of_field(translated("it ought to be"), expected.problem());
    const double allowed = chain.channel.tolerance / std::abs(chain.shown->scale);
    question.expected = Range{*expected - allowed, *expected + allowed};
  }
  question.measured = measured_;
  question.also = also_;
  return question;
}

void MistakeView::search() {
  later_.stop();
  search_.cancel();
  const auto asked = question();
  if (!asked) return show_nothing(sentence(to_text(asked.problem())));
  if (!asked->shown && !asked->expected)
    return show_nothing(tr("Type what your firmware shows, or what it ought to be: the usual mistakes are tried."));
  verdict_->setText(tr("Looking…"));
  search_.start(
      [bench = workbench_.bench(), catalogue = workbench_.shared_catalogue(), channel = channel_,
       question = *asked](const std::atomic<bool>&) { return diagnose(bench, *catalogue, channel, question); },
      [this](Result<Diagnosis> found) {
        if (!found) return show_nothing(text_of(to_text(found.problem())));
        show_nothing({});
        diagnosis_ = std::move(*found);
        if (workbench_.chosen().chain) show_diagnosis(*workbench_.chosen().chain);
      });
}

void MistakeView::show_nothing(const QString& why) {
  clear(causes_);
  in_strip_.clear();
  if (const QWidget* focus = focusWidget(); focus && focus->hasFocus())
    for (const auto& [id, typed] : half_typed_)
      if (focus->objectName() == QStringLiteral("measured_") + text_of(id)) focused_ = id;
  clear(measurements_);
  reads_->clear();
  diagnosis_ = {};
  verdict_->setText(why);
  if (!why.isEmpty() && isVisible()) leave_strip();
}

void MistakeView::show_diagnosis(const Chain& chain) {
  const auto count = static_cast<int>(diagnosis_.causes.size());
  verdict_->setText(count == 0   ? sentence(diagnosis_.verdict)
                    : count == 1 ? tr("One usual mistake explains it.")
                                 : tr("%1 usual mistakes would explain it, the likeliest first.").arg(count));
  reads_->setText(diagnosis_.right
                      ? tr("By this bench the number reads %1.")
                            .arg(text_of(with_unit(*diagnosis_.right, 2, chain.shown->symbol, workbench_.style())))
                      : tr("By this bench the number is no reading."));
  for (std::size_t i = 0; i < diagnosis_.causes.size() && i < most_shown; ++i) add_cause(diagnosis_.causes[i], chain);
  if (isVisible()) show_first_in_strip();
  add_measurements();
  if (diagnosis_.also_usual.empty()) return;
  QStringList usual;
  for (const std::string& each : diagnosis_.also_usual) usual << text_of(each);
  auto* words =
      new Text(theme_, Face::small,
               tr("Usual with this part too, though no number tells it: %1.").arg(usual.join(QStringLiteral("; "))),
               Tint::quiet);
  words->setObjectName(QStringLiteral("also_usual"));
  words->setWordWrap(true);
  measurements_->addSpacing(8);
  measurements_->addWidget(words);
}

// What was measured belongs to the question that it was measured for.
void MistakeView::forget_measured() {
  measured_.clear();
  also_.clear();
  half_typed_.clear();
}

// What would tell the causes apart, the two most telling ones, each with a field for its result.
void MistakeView::add_measurements() {
  const bool any = !measured_.empty() || !also_.empty();
  if (diagnosis_.next.empty() && !any) return;
  const std::string focused = std::exchange(focused_, {});
  measurements_->addSpacing(8);
  measurements_->addWidget(new Text(theme_, Face::label, tr("MEASURE NEXT"), Tint::quiet));
  if (any) {
    auto* known = new QPushButton(tr("Forget what was measured (%1)").arg(measured_.size() + also_.size()));
    known->setObjectName(QStringLiteral("forget_measured"));
    known->setProperty("quiet", true);
    connect(known, &QPushButton::clicked, this, [this] {
      forget_measured();
      search();
    });
    measurements_->addWidget(known, 0, Qt::AlignLeft);
  }
  if (diagnosis_.next.empty())
    measurements_->addWidget(new Text(theme_, Face::small, tr("Nothing tells the rest apart."), Tint::quiet));
  for (std::size_t i = 0; i < diagnosis_.next.size() && i < 2; ++i) {
    const NextMeasurement& next = diagnosis_.next[i];
    auto* words = new Text(theme_, Face::small, sentence(next.words));
    words->setWordWrap(true);
    measurements_->addWidget(words);
    auto* field = new QLineEdit;
    field->setObjectName(QStringLiteral("measured_") + text_of(next.id));
    field->setAccessibleName(in_own_marks(text_of(next.words)));
    field->setFont(theme_.font(Face::number_small));
    field->setPlaceholderText(next.id == "second" ? tr("RAW = value in %1").arg(text_of(next.unit))
                              : next.unit.empty() ? tr("what it answers")
                                                  : tr("what it shows, %1").arg(text_of(next.unit)));
    words->setBuddy(field);
    connect(field, &QLineEdit::returnPressed, this, [this, field, id = next.id] { measured(id, field->text()); });
    // What is half typed is not lost where the bench changes meanwhile.
    if (const auto typed = half_typed_.find(next.id); typed != half_typed_.end()) field->setText(typed->second);
    connect(field, &QLineEdit::textEdited, this, [this, id = next.id](const QString& text) { half_typed_[id] = text; });
    measurements_->addWidget(field);
    if (next.id == focused) field->setFocus(Qt::OtherFocusReason);
  }
}

void MistakeView::measured(const std::string& id, const QString& text) {
  if (!workbench_.chosen().chain) return;
  half_typed_.erase(id);
  const Chain& chain = *workbench_.chosen().chain;
  if (id == "second") {
    const auto parts = text.split(QLatin1Char('='));
    const auto raw = parse_number(parts.front().trimmed().toStdString());
    const auto value = parts.size() == 2
                           ? number_in(parts.back(), chain)
                           : Result<double>(Problem{translated("the value is missing"), translated("RAW = value")});
    if (!raw || !value) return reads_->setText(sentence(to_text(!raw ? raw.problem() : value.problem())));
    also_.push_back({*raw, *value, decimals_of(parts.back())});
  } else {
    const auto value = measured_value(id, text.trimmed().toStdString());
    if (!value) return reads_->setText(sentence(to_text(value.problem())));
    std::erase_if(measured_, [&](const Question::Measured& each) { return each.id == id; });
    measured_.push_back({id, *value});
  }
  search();
}

void MistakeView::add_cause(const Cause& cause, const Chain& chain) {
  auto* all = column(2);
  auto* head = row(12);
  auto* share = new Text(theme_, Face::number, tr("%1 %").arg(std::lround(cause.share * 100)), Tint::accent);
  share->setFixedWidth(theme_.px(52));
  auto* words = new Text(theme_, Face::strong, sentence(cause.words));
  words->setWordWrap(true);
  head->addWidget(share, 0, Qt::AlignTop);
  head->addWidget(words, 1);
  all->addLayout(head);
  const auto line = [&](const QString& text, Face face, Tint tint) {
    auto* label = new Text(theme_, face, text, tint);
    label->setWordWrap(true);
    label->setContentsMargins(theme_.px(64), 0, 0, 0);
    all->addWidget(label);
  };
  for (const std::string& each : cause.arithmetic) line(text_of(each), Face::code, Tint::quiet);
  if (cause.gives)
    line(tr("gives %1")
             .arg(text_of(
                 with_unit(*cause.gives, decimals_of(shown_->text()) + 1, chain.shown->symbol, workbench_.style()))),
         Face::code, Tint::ink);
  line(tr("Mend it: %1.").arg(text_of(cause.fix)), Face::text, Tint::ink);
  if (!cause.of_part.empty())
    line(tr("Usual with this part. %1").arg(sentence(cause.of_part)), Face::small, Tint::quiet);
  line(tr("To tell it from others: %1.").arg(text_of(cause.next)), Face::small, Tint::quiet);
  auto* buttons = row(0);
  buttons->addSpacing(theme_.px(60));
  if (!cause.stages.empty()) {
    auto* show = new QPushButton(tr("Show it in the strip"));
    show->setObjectName(QStringLiteral("mistake_strip_") + text_of(cause.code));
    show->setProperty("quiet", true);
    show->setCheckable(true);
    show->setToolTip(
        tr("The strip holds the number, each stage with what this chain has there; the first that differs is marked"));
    connect(show, &QPushButton::toggled, this, [this, code = cause.code] { show_in_strip(code); });
    in_strip_[cause.code] = show;
    buttons->addWidget(show);
  }
  if (cause.so) {
    auto* so = new QPushButton(tr("It is so: change the bench"));
    so->setObjectName(QStringLiteral("mistake_so_") + text_of(cause.code));
    so->setProperty("quiet", true);
    so->setToolTip(tr("What this says is fitted, set or selected goes into the bench; it can be undone"));
    connect(so, &QPushButton::clicked, this, [this, changed = cause.so, words = text_of(cause.words)] {
      workbench_.document().edit(tr("as found: %1").arg(words), [&](Bench& bench) { take_over(bench, *changed); });
    });
    buttons->addWidget(so);
  }
  buttons->addStretch();
  all->addLayout(buttons);
  causes_->addLayout(all);
}

}  // namespace fair_gauge::app

#include "moc_mistake_view.cpp"
