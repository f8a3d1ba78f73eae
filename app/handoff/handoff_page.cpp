#include "handoff/handoff_page.h"

#include <QApplication>
#include <QClipboard>
#include <QDate>
#include <QDir>
#include <QFileDialog>
#include <cmath>

#include "files/file.h"
#include "handoff/one_page.h"
#include "quantity/number_format.h"
#include "widgets/form.h"
#include "widgets/print.h"
#include "widgets/saving.h"

namespace fair_gauge::app {

namespace {

Bench without_notes(Bench bench) {
  for (Channel& channel : bench.channels) channel.handed_over.reset();
  return bench;
}

}  // namespace

HandoffPage::HandoffPage(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  setObjectName(QStringLiteral("page"));
  setAttribute(Qt::WA_StyledBackground);
  title_ = new Text(theme, Face::title);
  title_->setObjectName(QStringLiteral("handoff_title"));
  QWidget *narrow = build_verdict(), *wide = build_code();
  auto* both = sides(theme, 24, narrow, 360, {{wide, 1}});
  auto* all = column(8);
  all->setContentsMargins(24, 12, 24, 12);
  all->addWidget(title_);
  all->addLayout(both, 1);
  setLayout(all);
  const auto later = [this] {
    stale_ = true;
    if (isVisible()) make(), check_own_line();
  };
  connect(&workbench, &Workbench::bench_changed, this, [this, later] {
    // What was handed over is only noted: the firmware is the same.
    handoff_&& without_notes(workbench_.bench()) == made_of_ ? show_handed_over() : later();
  });
  connect(&workbench, &Workbench::selection_changed, this, [this, later] {
    if (!handoff_ || handoff_->report.channel != workbench_.channel_id()) later();
  });
}

// What is wanted of the code.
Form* HandoffPage::build_wishes() {
  auto* form = new Form(theme_);
  const auto chosen = [this](int) { make(); };
  language_ = form->add_choice(tr("Language"), tr("C99 for compilers of small controllers, or Python"),
                               {tr("C"), tr("Python")}, "handoff_language", chosen);
  form_ = form->add_choice(tr("Arithmetic"),
                           tr("The cheapest is the one with the least flash whose error stays below a tenth of the "
                              "channel's uncertainty"),
                           {tr("cheapest"), tr("whole numbers"), tr("table"), tr("float")}, "handoff_form", chosen);
  per_unit_ =
      form->add_choice(tr("Steps of the result"),
                       tr("How many make one shown unit; by the budget half a step is at most a fifth of the "
                          "uncertainty"),
                       {tr("by the budget"), tr("1"), tr("10"), tr("100"), tr("1000")}, "handoff_per_unit", chosen);
  trimming_ = form->add_choice(tr("Trimming"), tr("Of this specimen, written into the code, or loaded from the part"),
                               {tr("compiled in"), tr("loaded")}, "handoff_trimming", [this](int index) {
                                 wants_loaded_ = index == 1;
                                 make();
                               });
  reading_ = form->add_choice(tr("Reading the part"),
                              tr("How it is set up, started, waited for and read, by its sheet and the bench; a "
                                 "few functions of the board stay yours"),
                              {tr("is yours"), tr("is written too")}, "handoff_reading", chosen);
  return form;
}

// What came of it: the proof, the cost, the error over the codes; and where it is saved.
QWidget* HandoffPage::build_verdict() {
  trimming_lacks_ = new Text(theme_, Face::small, {}, Tint::quiet);
  trimming_lacks_->setObjectName(QStringLiteral("handoff_trimming_lacks"));
  trimming_lacks_->hide();
  summary_ = new Text(theme_, Face::strong);
  summary_->setObjectName(QStringLiteral("handoff_summary"));
  proof_ = new Text(theme_, Face::text);
  proof_->setObjectName(QStringLiteral("handoff_proof"));
  cost_ = new Text(theme_, Face::text);
  cost_->setObjectName(QStringLiteral("handoff_cost"));
  notes_ = new Text(theme_, Face::small, {}, Tint::quiet);
  for (Text* each : {trimming_lacks_, summary_, proof_, cost_, notes_}) each->setWordWrap(true);
  save_ = new QPushButton(tr("Save into a folder…"));
  save_->setObjectName(QStringLiteral("handoff_save"));
  save_->setProperty("primary", true);
  connect(save_, &QPushButton::clicked, this, [this] {
    const QString folder = QFileDialog::getExistingDirectory(this, tr("Folder for the firmware"));
    if (folder.isEmpty()) return;
    const QString fault = save_to(folder);
    notes_->setText(fault.isEmpty() ? tr("Saved in %1").arg(folder) : fault);
  });
  page_ = new QPushButton(tr("One page…"));
  page_->setObjectName(QStringLiteral("handoff_page"));
  page_->setToolTip(tr("Chain, arithmetic, proof, cost, wires and calibration on one page, to be kept with the board"));
  connect(page_, &QPushButton::clicked, this, [this] {
    const QString path = ask_where_to_save(this, tr("Save the page"), text_of(workbench_.channel_id()),
                                           {QStringLiteral("PDF (*.pdf)"), QStringLiteral("HTML (*.html)")});
    if (path.isEmpty()) return;
    const QString fault = save_page(path);
    notes_->setText(fault.isEmpty() ? tr("Saved as %1").arg(QFileInfo(path).fileName()) : fault);
  });
  handed_ = new Text(theme_, Face::small, {}, Tint::quiet);
  handed_->setObjectName(QStringLiteral("handoff_handed"));
  handed_->setWordWrap(true);
  auto* said = column(8);
  said->setContentsMargins(0, 0, 12, 0);
  said->addWidget(build_wishes());
  said->addSpacing(8);
  for (Text* each : {trimming_lacks_, summary_, proof_, cost_, notes_}) said->addWidget(each);
  errors_ = new ErrorPlot(theme_);
  said->addWidget(errors_, 1);
  said->addStretch();
  auto* inside = new QWidget;
  inside->setLayout(said);
  auto* left = column(8);
  left->addWidget(scrolled(inside), 1);
  left->addWidget(handed_);
  auto* saving = row(8);
  saving->addWidget(save_);
  saving->addWidget(page_);
  saving->addStretch();
  left->addLayout(saving);
  auto* narrow = new QWidget;
  narrow->setLayout(left);
  return narrow;
}

QWidget* HandoffPage::build_code() {
  file_ = choice_box({}, "handoff_file", tr("File of the hand-over"));
  file_->setMinimumContentsLength(14);
  connect(file_, &QComboBox::currentIndexChanged, this, &HandoffPage::show_file);
  auto* copy = new QPushButton(tr("Copy"));
  copy->setObjectName(QStringLiteral("handoff_copy"));
  connect(copy, &QPushButton::clicked, this, [this] { QApplication::clipboard()->setText(code_->toPlainText()); });
  code_ = new QPlainTextEdit;
  code_->setObjectName(QStringLiteral("handoff_code"));
  code_->setAccessibleName(tr("The code as it will be written"));
  code_->setReadOnly(true);
  code_->setTabChangesFocus(true);
  const auto wear = [this] { code_->setFont(theme_.font(Face::code)); };
  wear();
  connect(&theme_, &Theme::changed, this, wear);
  auto* bar = row(8);
  bar->addWidget(file_);
  bar->addStretch();
  bar->addWidget(copy);
  auto* right = column(8);
  right->addLayout(bar);
  right->addWidget(code_, 1);
  right->addWidget(build_own_line());
  auto* wide = new QWidget;
  wide->setLayout(right);
  return wide;
}

QWidget* HandoffPage::build_own_line() {
  own_line_ = new QLineEdit;
  own_line_->setObjectName(QStringLiteral("own_line"));
  own_line_->setPlaceholderText(tr("your own line: t = adc * 782 / 1000 - 250, or (v - 0.5) * 100"));
  own_line_->setAccessibleName(tr("A line of your own firmware"));
  own_line_->setFont(theme_.font(Face::code));
  connect(&theme_, &Theme::changed, this, [this] { own_line_->setFont(theme_.font(Face::code)); });
  connect(own_line_, &QLineEdit::returnPressed, this, &HandoffPage::check_own_line);
  own_bits_ = choice_box({tr("16-bit int"), tr("32-bit int")}, "own_bits", tr("Bits of an int there"));
  connect(own_bits_, &QComboBox::activated, this, &HandoffPage::check_own_line);
  auto* check = new QPushButton(tr("Check it"));
  check->setObjectName(QStringLiteral("own_check"));
  check->setToolTip(tr("Runs it over every raw number, as C does it there, beside the exact chain"));
  connect(check, &QPushButton::clicked, this, &HandoffPage::check_own_line);
  own_words_ = new Text(theme_, Face::small);
  own_words_->setObjectName(QStringLiteral("own_verdict"));
  own_words_->setWordWrap(true);
  own_mends_ = column(0);
  auto* bar = row(8);
  bar->addWidget(own_line_, 1);
  bar->addWidget(own_bits_);
  bar->addWidget(check);
  auto* all = column(4);
  all->addWidget(new Text(theme_, Face::label, tr("CHECK YOUR OWN ARITHMETIC"), Tint::quiet));
  all->addLayout(bar);
  all->addWidget(own_words_);
  all->addLayout(own_mends_);
  auto* box = new QWidget;
  box->setLayout(all);
  return box;
}

void HandoffPage::check_own_line() {
  clear(own_mends_);
  const std::string line = own_line_->text().trimmed().toStdString();
  if (line.empty() || !workbench_.chosen().chain) {
    own_work_.cancel();
    return own_words_->clear();
  }
  own_words_->set_tint(Tint::quiet);
  own_words_->setText(tr("Every raw number is run…"));
  own_work_.start(
      [chain = *workbench_.chosen().chain, line,
       bits = own_bits_->currentIndex() == 0 ? 16 : 32](const std::atomic<bool>& stop) {
        return check_own_arithmetic(chain, line, bits, 0, [&] { return stop.load(); });
      },
      [this](const Result<OwnVerdict>& verdict) { show_own_verdict(verdict); });
}

void HandoffPage::show_own_verdict(const Result<OwnVerdict>& verdict) {
  const Chain* chain = workbench_.chosen().chain ? &*workbench_.chosen().chain : nullptr;
  if (!verdict || !chain) {
    own_words_->set_tint(Tint::red);
    return own_words_->setText(verdict ? QString() : sentence(to_text(verdict.problem())));
  }
  QStringList words;
  for (const std::string& each : own_verdict_words(*verdict, *chain->shown)) words << text_of(each);
  own_words_->set_tint(verdict->is_exact_enough() ? Tint::accent : Tint::red);
  own_words_->setText(words.join(QLatin1Char(' ')));
  for (const OwnVerdict::Mend& mend : verdict->mends) {
    const QString then = mend.worst_wanted <= verdict->allowed
                             ? tr("then it is exact enough")
                             : tr("then at most %1 off")
                                   .arg(text_of(with_unit(mend.worst_wanted, decimals_of_two_digits(mend.worst_wanted),
                                                          chain->shown->symbol, workbench_.style())));
    auto* button = new QPushButton(tr("Mend it, %1: %2").arg(text_of(mend.words), then));
    button->setObjectName(QStringLiteral("own_mend"));
    button->setProperty("quiet", true);
    button->setToolTip(text_of(mend.line));
    button->setMinimumWidth(1);  // large text may cut it, but not widen the window
    connect(button, &QPushButton::clicked, this, [this, line = text_of(mend.line)] {
      own_line_->setText(line);
      QTimer::singleShot(0, this, &HandoffPage::check_own_line);  // this button goes with its list
    });
    own_mends_->addWidget(button, 0, Qt::AlignLeft);
  }
}

void HandoffPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  if (stale_) make();
}

namespace {

// What the bench knows of the numbers that the maker stored in the specimen.
enum class Trimming { none, missing, known };

Trimming trimming_of(const ChannelView& chosen) {
  if (!chosen.chain || !chosen.chain->decoder || chosen.chain->derived) return Trimming::none;
  const ByteLayout& layout = chosen.chain->decoder->part().bytes;
  if (!Decoder::hold_trimming(chosen.chain->trimming, layout)) return Trimming::missing;
  return chosen.chain->trimming.empty() ? Trimming::none : Trimming::known;
}

}  // namespace

void HandoffPage::make() {
  stale_ = false;
  made_of_ = without_notes(workbench_.bench());
  handoff_.reset();
  file_->clear();
  code_->clear();
  for (Text* each : {proof_, cost_, notes_}) each->clear();
  for (QPushButton* each : {save_, page_}) each->setEnabled(false);
  errors_->hide();
  show_handed_over();
  const ChannelView& chosen = workbench_.chosen();
  if (!chosen.channel) return;
  title_->setText(tr("Hand over: %1").arg(text_of(called(*chosen.channel))));
  summary_->setText(tr("Every raw number is run…"));
  constexpr std::int64_t steps[] = {0, 1, 10, 100, 1000};
  constexpr HandoffForm forms[] = {HandoffForm::integer, HandoffForm::table, HandoffForm::floating};
  HandoffRequest request{.channel = workbench_.channel_id(),
                         .language = language_->currentIndex() == 0 ? Language::c : Language::python,
                         .form = std::nullopt,
                         .per_unit = steps[std::max(0, per_unit_->currentIndex())],
                         .reading = reading_->currentIndex() == 1};
  if (form_->currentIndex() > 0) request.form = forms[form_->currentIndex() - 1];
  const Trimming held = trimming_of(chosen);
  request.trimming_loaded = held == Trimming::missing || (held == Trimming::known && wants_loaded_);
  trimming_->setCurrentIndex(request.trimming_loaded);
  trimming_->setEnabled(held == Trimming::known);
  if (held == Trimming::missing)
    trimming_lacks_->setText(tr(
        "This specimen's trimming is not in the bench: the firmware loads it from the part. Typed under Wire, Raw, it "
        "can be compiled in."));
  trimming_lacks_->setVisible(held == Trimming::missing);
  reading_->setEnabled(chosen.chain && !chosen.chain->derived && workbench_.digital_face(*chosen.channel).part);
  work_.start(
      [bench = workbench_.bench(), catalogue = workbench_.shared_catalogue(),
       request](const std::atomic<bool>& stop) mutable {
        request.is_cancelled = [&stop] { return stop.load(); };
        return hand_over(bench, *catalogue, request);
      },
      [this](Result<Handoff> done) {
        if (!done) {
          summary_->setText(tr("It is not handed over."));
          return proof_->setText(text_of(to_text(done.problem())));
        }
        handoff_ = std::move(*done);
        show_handoff();
      });
}

void HandoffPage::show_handoff() {
  const HandoffReport& report = handoff_->report;
  const std::string symbol(difference_symbol(report.unit));
  const NumberStyle& style = workbench_.style();
  const auto number = [&](double value) {
    return text_of(with_unit(value, std::clamp(decimals_of_two_digits(value), 0, 6), symbol, style));
  };
  const QString form = report.form == "integer" ? tr("Whole numbers")
                       : report.form == "table" ? tr("A table")
                                                : tr("Float");
  summary_->setText(tr("%1, a step is %2").arg(form, number(1.0 / static_cast<double>(report.per_unit))));
  const QString at =
      report.at_side ? tr("%1 beside %2").arg(text_of(report.at_raw)).arg(*report.at_side) : text_of(report.at_raw);
  proof_->setText(
      report.exhaustive && report.worst_error == 0 && !report.side
          ? tr("All %1 raw numbers were run, and none is off: each is a whole number of steps.")
                .arg(text_of(fixed(static_cast<double>(report.codes_checked), 0, style)))
      : report.exhaustive
          ? (report.side ? tr("All %1 pairs of raw number and side were run: at worst %2 off, at %3; in the "
                              "wanted range %4, of %5 that its uncertainty leaves room for.")
                         : tr("All %1 raw numbers were run: at worst %2 off, at %3; in the wanted range "
                              "%4, of %5 that "
                              "its uncertainty leaves room for."))
                .arg(text_of(fixed(static_cast<double>(report.codes_checked), 0, style)))
                .arg(number(report.worst_error), at, number(report.worst_error_wanted),
                     number(report.allowed_error + 0.5 / static_cast<double>(report.per_unit)))
      : report.side
          ? tr("%1 drawn pairs of raw number and side were run: at worst %2 off, at %3; in the wanted range %4.")
                .arg(text_of(fixed(static_cast<double>(report.codes_checked), 0, style)))
                .arg(number(report.worst_error), at, number(report.worst_error_wanted))
          : tr("%1 drawn blocks of bytes were run: at worst %2 off; in the wanted range %3.")
                .arg(text_of(fixed(static_cast<double>(report.codes_checked), 0, style)))
                .arg(number(report.worst_error), number(report.worst_error_wanted)));
  cost_->setText(report.cost ? text_of(cost_words(report))
                             : tr("What it costs is not known here: no cross compiler is installed, or it is Python."));
  errors_->show_handoff(*handoff_, text_of(symbol), style);
  QStringList notes;
  for (const std::string& note : report.notes) notes << text_of(note);
  notes_->setText(notes.join(QLatin1Char('\n')));
  // The code first, then its header, then the rest.
  QStringList names;
  for (const auto& [name, text] : handoff_->files) names << text_of(name);
  std::ranges::stable_sort(names, {}, [](const QString& name) {
    return name.endsWith(QStringLiteral(".c")) || name.endsWith(QStringLiteral(".py")) ? 0
           : name.endsWith(QStringLiteral(".h"))                                       ? 1
                                                                                       : 2;
  });
  file_->addItems(names);
  for (QPushButton* each : {save_, page_}) each->setEnabled(true);
}

void HandoffPage::show_file(int index) {
  if (!handoff_ || index < 0) return code_->clear();
  const auto file = handoff_->files.find(file_->itemText(index).toStdString());
  if (file == handoff_->files.end()) return;
  constexpr std::size_t most = 60'000;  // of a list of vectors the beginning is enough to see
  code_->setPlainText(text_of(file->second.substr(0, most)));
}

QString HandoffPage::save_to(const QString& folder) {
  if (!handoff_) return tr("There is nothing to save yet.");
  for (const auto& [name, text] : handoff_->files)
    if (QFile::exists(QDir(folder).filePath(text_of(name))))
      return tr("The folder already holds %1: choose another one.").arg(text_of(name));
  for (const auto& [name, text] : handoff_->files)
    if (const auto written = write_file(QDir(folder).filePath(text_of(name)).toStdString(), text); !written)
      return text_of(to_text(written.problem()));
  // Remembered with the bench, so that a later change of the chain is seen.
  const std::string id = handoff_->report.channel;
  if (const auto chain = build_chain(workbench_.bench(), workbench_.catalogue(), id)) {
    const HandedOver now{chain_fingerprint(*chain), QDate::currentDate().toString(Qt::ISODate).toStdString()};
    workbench_.document().edit(tr("handed over"), [&](Bench& bench) {
      if (Channel* channel = find_by_id(bench.channels, id)) channel->handed_over = now;
    });
  }
  return {};
}

QString HandoffPage::save_page(const QString& path) {
  if (!handoff_) return tr("There is nothing to save yet.");
  const std::string html = handoff_html(*handoff_, made_of_, workbench_.catalogue(),
                                        QDate::currentDate().toString(Qt::ISODate).toStdString());
  if (path.endsWith(QStringLiteral(".pdf"), Qt::CaseInsensitive)) return print_html(text_of(html), path);
  const auto written = write_file(path.toStdString(), html);
  return written ? QString() : text_of(to_text(written.problem()));
}

void HandoffPage::show_handed_over() {
  const ChannelView& chosen = workbench_.chosen();
  const auto chain = chosen.channel && chosen.channel->handed_over
                         ? build_chain(workbench_.bench(), workbench_.catalogue(), chosen.channel->id)
                         : Result<Chain>(Problem{});
  if (!chain) return handed_->clear();
  const HandedOver& handed = *chosen.channel->handed_over;
  const bool is_true = chain_fingerprint(*chain) == handed.source;
  handed_->set_tint(is_true ? Tint::quiet : Tint::amber);
  handed_->setText(is_true ? tr("Given to firmware on %1, and true since.").arg(text_of(handed.on))
                           : tr("Given to firmware on %1: the chain is another one since, the firmware is out of date.")
                                 .arg(text_of(handed.on)));
}

}  // namespace fair_gauge::app

#include "moc_handoff_page.cpp"
