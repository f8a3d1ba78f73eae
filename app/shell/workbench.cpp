#include "shell/workbench.h"

#include <fmt/format.h>

#include <cmath>
#include <span>

#include "chain/own_figures.h"
#include "diagnose/injected_fault.h"
#include "digital/decoder.h"
#include "language/translation.h"
#include "sources/recording.h"
#include "sources/serial_source.h"
#include "sources/simulated_source.h"
#include "sources/sources_beside.h"
#include "stream/listening.h"
#include "widgets/text.h"

#include <QLocale>
#include <QSignalBlocker>

namespace fair_gauge::app {
namespace {

constexpr std::size_t most_raw_lines = 400;
constexpr int repaint_ms = 33;  // however fast lines come, the views follow at most thirty times a second
constexpr std::size_t most_names = 1000;
constexpr double patient_periods = 3, patient_s = 3;
constexpr double day_start = 14.5 * 3600;  // a mild afternoon

// What came under a name: a number with its unit, or bytes as they were sent.
QString words_of(const RawItem& item) {
  if (item.is_missing()) return QStringLiteral("–");
  if (item.number)
    return QString::number(*item.number, 'g', 10) + (item.unit.empty() ? QString() : " " + text_of(item.unit));
  constexpr std::size_t most = 6, first = 2;
  if (item.bytes.size() <= most) return QStringLiteral("x") + text_of(to_hex(item.bytes));
  return Workbench::tr("x%1… %2 bytes").arg(text_of(to_hex(std::span(item.bytes).first(first)))).arg(item.bytes.size());
}

}  // namespace

Workbench::Workbench(std::shared_ptr<const Catalogue> catalogue)
    : by_sheet_(catalogue ? std::move(catalogue) : std::make_shared<const Catalogue>(load_catalogue())),
      catalogue_(by_sheet_),
      simulated_(std::make_unique<SimulatedSource>(1, day_start)),
      line_(std::make_unique<SerialSource>()),
      beside_sources_(std::make_unique<SourcesBeside>()),
      recording_(std::make_unique<Recording>()),
      source_(simulated_.get()) {
  take_up_locale();
  start_clock();
  repaint_.setSingleShot(true);
  repaint_.setInterval(repaint_ms);
  connect(&repaint_, &QTimer::timeout, this, &Workbench::values_changed);
  patience_.setInterval(1000);
  connect(&patience_, &QTimer::timeout, this, &Workbench::look_for_silence);
  patience_.start();
  connect(&document_, &Document::changed, this, &Workbench::refresh);
  connect(&document_, &Document::edited, recording_.get(),
          [this](const QString& label) { recording_->happens("bench", label); });
  connect_source(*simulated_);
  connect_source(*line_);
  connect(beside_sources_.get(), &SourcesBeside::line_came, this, [this](const SerialLine& line, double age_s) {
    for (const RawItem& item : line.items)
      if (heard_beside_.size() < most_names) heard_beside_.insert(item.name);
    take_line(line, age_s);
  });
  connect(beside_sources_.get(), &SourcesBeside::changed, this, [this] {
    if (beside_sources_->all().empty()) heard_beside_.clear();
    emit source_changed();
  });
}

void Workbench::connect_source(LiveSource& source) {
  connect(&source, &LiveSource::line_came, this, [this, from = &source](const SerialLine& line, double age_s) {
    if (from != source_) return;
    listens_to_line() ? take_line(line, age_s) : take_simulated(line, age_s);
  });
  connect(&source, &LiveSource::state_changed, this, [this, from = &source] {
    emit source_changed();
    if (from != source_ || !recording_->is_on()) return;
    if (from->state() == LineState::opening) return;
    const bool runs = from->state() == LineState::running;
    if (std::exchange(ran_, runs) != runs) recording_->happens(runs ? "connected" : "disconnected", from->words());
  });
}

Workbench::~Workbench() = default;

QString ChannelView::stalled() const {
  if (silent_s) return Workbench::tr("nothing for %1").arg(duration_words(*silent_s));
  return refused ? Workbench::tr("refused: %1").arg(text_of(fault_words(refused->code))) : QString();
}

QString duration_words(double seconds) {
  return seconds < 120 ? Workbench::tr("%1 s").arg(std::floor(seconds))
                       : Workbench::tr("%1 min").arg(std::floor(seconds / 60));
}

// Seconds since the session began; never → minus infinity.
double Workbench::last_heard(const std::string& channel_id) const {
  const auto& latest = samples(channel_id);
  const auto refused = refused_.find(raw_channel(channel_id));
  const double sample = latest.empty() ? -HUGE_VAL : latest.back().seconds;
  return refused == refused_.end() ? sample : std::max(sample, refused->second.seconds);
}

bool Workbench::is_silent(const Channel& channel) const {
  if (channel.derived)
    if (const Channel* beside = find_by_id(bench().channels, channel.derived->beside); beside && is_silent(*beside))
      return true;
  const double age = static_cast<double>(clock_.elapsed()) / 1000 - last_heard(channel.id);
  return std::isfinite(age) && age > patient_periods * channel.period_s + patient_s;
}

// The age of a number that no longer comes moves by itself.
void Workbench::look_for_silence() {
  if (!is_listening()) return;
  bool any = false;
  for (const Channel& channel : bench().channels) {
    if (!is_silent(channel)) continue;
    views_.erase(channel.id);
    switch_live(channel, static_cast<double>(clock_.elapsed()) / 1000, false);
    any = true;
  }
  if (any && !repaint_.isActive()) repaint_.start();
}

bool Workbench::listens_to_line() const { return source_ != simulated_.get(); }

void Workbench::take_up_locale() {
  style_.decimal_mark = QLocale().decimalPoint().toStdString();
  emit bench_changed();
  emit selection_changed();
  emit values_changed();
}

void Workbench::refresh() {
  if (bench().own_parts != own_parts_) {
    own_parts_ = bench().own_parts;
    catalogue_ = with_own_figures(by_sheet_, own_parts_);
  }
  views_.clear();
  chains_.clear();
  beside_others_.clear();
  std::erase_if(switching_, [this](const auto& each) {  // what decides may be another
    const Channel *now = find_by_id(bench().channels, each.first), &was = each.second.channel;
    return !now || now->switching != was.switching || now->unit != was.unit || now->plausible != was.plausible ||
           now->device != was.device;
  });
  for (auto& [id, day] : days_) day.until = -HUGE_VAL;  // its readings may be others now
  if (!find_by_id(bench().channels, channel_id_))
    channel_id_ = bench().channels.empty() ? "" : bench().channels.front().id;
  if (anchor_ && chosen().chain && !chosen().chain->stage(anchor_->stage)) anchor_.reset();
  keep_stage();
  if (fault_) {  // the same, of the bench as it is now
    auto again =
        InjectedFault::of_name(std::make_shared<const Bench>(bench()), catalogue_, fault_->channel(), fault_->name());
    fault_ = again ? std::make_shared<const InjectedFault>(std::move(*again)) : nullptr;
  }
  if (!document_.can_undo() && !document_.can_redo()) simulated_->take_specimens(bench());  // opened, or begun
  simulated_->follow(bench(), *catalogue_, fault_);
  emit bench_changed();
  emit values_changed();
}

// A stage that the chosen channel does not have cannot stay chosen.
void Workbench::keep_stage() {
  const auto& chain = chosen().chain;
  if (chain && !chain->stage(stage_)) stage_ = chain->code_stage()->name;
}

void Workbench::reload_catalogue() {
  by_sheet_ = std::make_shared<const Catalogue>(load_catalogue());
  catalogue_ = with_own_figures(by_sheet_, bench().own_parts);
  refresh();
  emit selection_changed();
}

void Workbench::choose_channel(const std::string& id) {
  if (id == channel_id_ || !find_by_id(bench().channels, id)) return;
  channel_id_ = id;
  anchor_.reset();
  views_.clear();
  chains_.clear();
  beside_others_.clear();
  keep_stage();
  emit selection_changed();
  emit values_changed();
}

void Workbench::choose_stage(StageName stage) {
  if (stage == stage_) return;
  stage_ = stage;
  emit selection_changed();
}

void Workbench::hold(Anchor anchor) {
  anchor_ = anchor;
  views_.erase(channel_id_);
  emit values_changed();
}

void Workbench::set_beside(std::optional<ChainBeside> beside) {
  if (!beside && !beside_) return;
  beside_ = std::move(beside);
  emit values_changed();
}

const ChainBeside* Workbench::beside() const {
  return beside_ && beside_->channel == channel_id_ && anchor_ == beside_->anchor ? &*beside_ : nullptr;
}

void Workbench::put_in(std::shared_ptr<const InjectedFault> fault) {
  fault_ = std::move(fault);
  simulated_->follow(bench(), *catalogue_, fault_);
  emit source_changed();
}

void Workbench::touch_simulated(const std::string& channel_id, double change, double time_constant_s) {
  if (!listens_to_line()) simulated_->touch(channel_id, change, time_constant_s);
}

void Workbench::let_go_simulated() { simulated_->let_go(); }

std::optional<double> Workbench::simulated_truth(const std::string& channel_id) const {
  return listens_to_line() ? std::nullopt : simulated_->truth_of(channel_id);
}

void Workbench::return_to_live() {
  if (!anchor_) return;
  anchor_.reset();
  views_.erase(channel_id_);
  emit values_changed();
}

Anchor Workbench::solved_from() const {
  if (anchor_) return *anchor_;
  const Channel* channel = find_by_id(document_.bench().channels, channel_id_);
  const auto& chain = chosen().chain;
  const auto& latest = samples(channel_id_);
  if (chain && !latest.empty() && chain->derived && chain->derived->setup().quantity->accumulates && chosen().reading)
    return {StageName::derived, *chosen().reading};
  if (chain && !latest.empty())
    return {chain->stage(StageName::raw) ? StageName::raw : StageName::converter, latest.back().raw};
  return {StageName::world, channel ? (channel->wanted.from + channel->wanted.to) / 2 : 0};
}

std::optional<double> Workbench::age_s() const {
  const auto& latest = samples(channel_id_);
  if (anchor_ || latest.empty() || !is_listening()) return std::nullopt;
  return std::max(0.0, static_cast<double>(clock_.elapsed()) / 1000 - latest.back().seconds);
}

void Workbench::set_source(LiveSource* source) {
  if (source_ != source) source_->stop();
  source_ = source;
  samples_.clear();
  older_samples_.clear();
  raw_lines_.clear();
  names_on_line_.clear();
  listener_ = {};
  refused_.clear();
  refused_so_far_.clear();
  views_.clear();
  chains_.clear();
  beside_others_.clear();
  days_.clear();
  switching_.clear();
}

void Workbench::listen_to_simulation() {
  set_source(simulated_.get());  // which follows the bench already
  // The tape begins with the last ten minutes, as if the bench had been open for a while.
  start_clock();
  clock_offset_ = 0;
  {
    const QSignalBlocker quiet(this);  // one notice for all of it
    for (const auto& [id, raws] : simulated_->skip(tape_seconds)) {
      const Channel* channel = find_by_id(bench().channels, id);
      const Chain* chain = steady_chain(id);
      if (!channel || !chain || heard_beside_.contains(channel->name_on_line())) continue;
      auto& samples = samples_[id];
      std::deque<Sample> past;
      for (const double raw : raws)
        if (const auto number = number_for(*channel, {"", raw, {}}))
          past.push_back({0, raw_from_bytes(*chain, *number)});
      samples.insert(samples.begin(), past.begin(), past.end());
      while (samples.size() > most_samples) samples.pop_front();
    }
  }
  for (auto& [id, samples] : samples_) {
    const Channel* channel = find_by_id(bench().channels, id);
    for (std::size_t i = 0; i < samples.size(); ++i)
      samples[i].seconds = -static_cast<double>(samples.size() - 1 - i) * (channel ? channel->period_s : 1);
  }
  start_clock();  // what the past took to work out is no gap after it
  switching_.clear();
  simulated_->start();
  emit source_changed();
  emit values_changed();
}

std::vector<KnownLine> Workbench::lines_listened_to() const {
  std::vector<KnownLine> lines;
  if (listens_to_line() && source_->state() != LineState::stopped) lines.push_back(first_line_);
  for (const SourcesBeside::Entry& each : beside_sources_->all())
    lines.push_back({each.path, each.baud, true, each.prefix});
  return lines;
}

void Workbench::listen_again(const std::vector<KnownLine>& lines) {
  for (const KnownLine& line : lines)
    line.is_beside ? static_cast<void>(beside_sources_->add(line.path, line.baud, line.prefix))
                   : listen_to_line(line.path, line.baud);
}

void Workbench::listen_to_line(const QString& path, int baud) {
  first_line_ = {.path = path.trimmed(), .baud = baud, .prefix = {}};
  auto* serial = qobject_cast<SerialSource*>(line_.get());
  if (serial && !SourcesBeside::is_file(path)) {
    serial->stop();
    set_source(serial);
    serial->set_line(path, baud);
  } else {
    auto line = SourcesBeside::source_of(path, baud);
    set_source(line.get());
    std::swap(line_, line);
    connect_source(*line_);
    line.reset();  // whatever it held is free before the other begins
  }
  line_->start();
  emit source_changed();
  emit values_changed();
}

bool Workbench::is_listening() const {
  return source_->state() == LineState::running || beside_sources_->is_any_running();
}

void Workbench::stop_listening() {
  source_->stop();
  emit source_changed();
}

const std::deque<Sample>& Workbench::samples(const std::string& channel_id) const {
  static const std::deque<Sample> none;
  const auto found = samples_.find(raw_channel(channel_id));
  return found == samples_.end() ? none : found->second;
}

const std::deque<Sample>& Workbench::older_samples(const std::string& channel_id) const {
  static const std::deque<Sample> none;
  const auto found = older_samples_.find(raw_channel(channel_id));
  return found == older_samples_.end() ? none : found->second;
}

RefusedAnswers Workbench::refused_answers(const std::string& channel_id) const {
  const auto found = refused_so_far_.find(raw_channel(channel_id));
  return found == refused_so_far_.end() ? RefusedAnswers() : found->second;
}

const std::string& Workbench::raw_channel(const std::string& channel_id) const {
  const Channel* channel = find_by_id(bench().channels, channel_id);
  return channel ? channel->raw_channel() : channel_id;
}

std::vector<std::pair<double, double>> Workbench::past(const std::string& channel_id) const {
  std::vector<std::pair<double, double>> readings;
  const Chain* chain = steady_chain(channel_id);
  if (!chain) return readings;
  if (!chain->derived && chain->side_channels.empty()) {
    for (const Sample& sample : samples(channel_id))
      if (const auto reading = read_raw(*chain, sample.raw)) readings.emplace_back(sample.seconds, *reading);
    return readings;
  }
  auto known = beside_others_.find(channel_id);
  if (known == beside_others_.end())
    known = beside_others_.emplace(channel_id, RowChains(bench(), *catalogue_, *chain)).first;
  RowChains& beside = known->second;
  beside.forget(day_before(channel_id));
  const auto needs = beside.needs();
  std::vector<std::size_t> next(needs.size());
  for (const Sample& sample : samples(channel_id)) {
    for (std::size_t i = 0; i < needs.size(); ++i)
      for (const auto& theirs = samples(needs[i]); next[i] < theirs.size() && theirs[next[i]].seconds <= sample.seconds;
           ++next[i])
        beside.know(needs[i], theirs[next[i]].raw);
    if (const auto reading = beside.reading(sample.raw, wall_clock(sample.seconds)))
      readings.emplace_back(sample.seconds, *reading);
  }
  return readings;
}

void Workbench::take_line(const SerialLine& line, double age_s) {
  RawLine raw_line{QString::fromStdString(line.text),
                   line.problem ? QString::fromStdString(to_text(*line.problem)) : QString()};
  if (!signalsBlocked() && !line.problem) recording_->take(line, age_s);  // not the simulated past
  const double now = static_cast<double>(clock_.nsecsElapsed()) / 1e9 - age_s;
  if (listens_to_line()) listener_.take(line, now);
  for (const RawItem& item : line.items) {
    if (names_on_line_.size() < most_names || names_on_line_.contains(item.name))  // noise makes names without end
      names_on_line_[item.name] = words_of(item);
    for (const Channel& channel : bench().channels) {
      if (channel.derived) continue;
      const bool only_value = line.items.size() == 1 && item.name == "1" && channel.id == channel_id_;
      if (channel.name_on_line() != item.name && !only_value) continue;
      if (channel.id != channel_id_ || !anchor_) views_.erase(channel.id);
      for (const Channel& other : bench().channels)
        if (other.is_derived_from(channel.id) && (other.id != channel_id_ || !anchor_)) views_.erase(other.id);
      if (item.is_missing()) {
        refuse_answer(channel, now, {"no-response", translated("no number came: the sensor may not have answered")});
        switch_live(channel, now, false);
        continue;
      }
      const auto raw =
          item.number || channel.arrives_converted() ? number_for(channel, item) : raw_in(channel, item.bytes, now);
      if (!raw) {  // a unit that this channel does not have, or bytes that are no reading
        switch_live(channel, now, false);
        continue;
      }
      refused_.erase(channel.id);
      auto& samples = samples_[channel.id];
      const Chain* chain = item.number ? steady_chain(channel.id) : nullptr;
      // What came in one piece came in order, however finely its age is known.
      constexpr double in_one_piece_s = 0.1;
      const double last = samples.empty() ? now : samples.back().seconds;
      samples.push_back(
          {last > now && last - now < in_one_piece_s ? last : now, chain ? raw_from_bytes(*chain, *raw) : *raw});
      if (samples.size() > most_samples) forget_oldest(channel);
      switch_live(channel, now, true);
      for (const Channel& other : bench().channels)
        if (other.is_derived_from(channel.id)) switch_live(other, now, true);
    }
  }
  raw_lines_.push_back(raw_line);
  if (raw_lines_.size() > most_raw_lines) raw_lines_.pop_front();
  emit line_came(raw_line);
  if (!repaint_.isActive()) repaint_.start();
}

// The raw number in bytes as they came; nothing where they are no reading, and why is kept.
std::optional<double> Workbench::raw_in(const Channel& channel, const std::vector<std::uint8_t>& bytes, double now) {
  const DigitalFace face = digital_face(channel);
  const Chain* chain = steady_chain(channel.id);
  if (face.part) bytes_of_devices_[face.device->id] = bytes;
  LogCell cell;
  if (face.part && chain && chain->decoder && !face.by_converter) {
    cell = CellReader(*chain).read_bytes(
        bytes, listens_to_line() ? CellReader::MissingTrimming::refused : CellReader::MissingTrimming::of_the_file);
  } else if (face.part) {  // the converter's block
    cell.raw = raw_of_block(*face.part, face.quantity, bytes);
    if (cell.raw && chain) cell.raw = raw_from_bytes(*chain, *cell.raw);
  } else if (bytes.size() <= 8) {  // a plain counter, most significant first
    cell.raw = 0;
    for (const std::uint8_t byte : bytes) *cell.raw = *cell.raw * 256 + byte;
    if (chain) cell.raw = raw_from_bytes(*chain, *cell.raw);
  }
  if (cell.raw && cell.fault.empty()) return cell.raw;
  if (cell.fault.empty()) {
    cell.fault = "short-frame";
    cell.says = cell.problem ? cell.problem->wrong
                             : translated("{} bytes came, which are no reading of this part", bytes.size());
  }
  refuse_answer(channel, now, {cell.fault, cell.says});
  return std::nullopt;
}

void Workbench::refuse_answer(const Channel& channel, double now, DigitalFault why) {
  refused_so_far_[channel.id] = {refused_so_far_[channel.id].count + 1, why.message};
  refused_[channel.id] = {now, std::move(why)};
}

DigitalFace Workbench::digital_face(const Channel& channel) const {
  DigitalFace face{.device = find_by_id(bench().devices, channel.device), .quantity = channel.quantity};
  if (!face.device) return face;
  face.part = catalogue_->find(face.device->part);
  if (face.part && face.part->is_digital()) return face;
  const Converter* converter = find_by_id(bench().converters, face.device->converter);
  face.part = converter && !converter->part.empty() ? catalogue_->find(converter->part) : nullptr;
  if (face.part && (!face.part->is_digital() || face.part->bytes.readings.empty())) face.part = nullptr;
  face.by_converter = face.part != nullptr;
  if (face.part) face.quantity = face.part->bytes.readings.front().quantity;
  return face;
}

// The chain without what other channels tell it; kept until the bench changes. Null if it cannot be built.
const Chain* Workbench::steady_chain(const std::string& channel_id) const {
  auto known = chains_.find(channel_id);
  if (known == chains_.end())
    known = chains_.emplace(channel_id, build_chain(document_.bench(), *catalogue_, channel_id)).first;
  return known->second ? &*known->second : nullptr;
}

// What the channels that this one needs read now. They have no side inputs of their own.
SideValues Workbench::side_values(const std::string& channel_id) const {
  SideValues values;
  const Chain* needing = steady_chain(channel_id);
  if (!needing) return values;
  if (needing->derived && needing->derived->setup().quantity->accumulates)
    values[channel_id] = std::max(1.0, day_of(needing->channel).seen_s());
  for (const std::string& other : needing->side_channels) {
    const auto& latest = samples(other);
    const Chain* chain = latest.empty() ? nullptr : steady_chain(other);
    const auto reading = chain ? read_raw(*chain, latest.back().raw) : Result<double>(Problem{});
    if (reading) values[other] = *reading;
  }
  return values;
}

const ChannelView& Workbench::view(const std::string& channel_id) const {
  const auto known = views_.find(channel_id);
  if (known != views_.end()) return known->second;
  ChannelView& view = views_[channel_id];
  view.channel = find_by_id(document_.bench().channels, channel_id);
  if (!view.channel) return view;
  if (const Problem* fault = document_.fault_of(channel_id)) {
    view.problem = *fault;
    view.reading = *fault;
    return view;
  }
  const Chain* steady = steady_chain(channel_id);
  const bool accumulates = steady && steady->derived && steady->derived->setup().quantity->accumulates;
  auto chain = steady && steady->side_channels.empty() && !accumulates
                   ? Result<Chain>(*steady)
                   : build_chain(document_.bench(), *catalogue_, channel_id, side_values(channel_id));
  if (!chain) {
    view.problem = chain.problem();
    view.reading = chain.problem();
    return view;
  }
  view.chain = std::move(*chain);
  const auto& latest = samples(channel_id);
  const bool held = anchor_ && channel_id == channel_id_;
  if (held) {
    const auto values = evaluate(*view.chain, *anchor_);
    const Stage* reading = view.chain->stage(StageName::derived)     ? view.chain->stage(StageName::derived)
                           : view.chain->stage(StageName::corrected) ? view.chain->stage(StageName::corrected)
                                                                     : view.chain->stage(StageName::compensated);
    const Stage* raw =
        view.chain->stage(StageName::raw) ? view.chain->stage(StageName::raw) : view.chain->stage(StageName::converter);
    view.reading = values[static_cast<std::size_t>(reading - view.chain->stages.data())];
    const auto& code = values[static_cast<std::size_t>(raw - view.chain->stages.data())];
    if (code) view.raw = *code;
  } else if (!latest.empty()) {
    view.raw = latest.back().raw;
    view.reading =
        accumulates ? steady->derived->at(day_of(*view.channel).area(), 1) : read_raw(*view.chain, latest.back().raw);
  } else {
    view.reading =
        Problem{translated("no reading has arrived yet"), translated("connect a board, or run the simulation")};
  }
  const std::string beside = view.channel->derived ? view.channel->derived->beside : std::string();
  if (!held && view.reading && !beside.empty() && samples(beside).empty())
    view.reading =
        Problem{translated("no reading of {} has arrived yet", beside), translated("a line that sends it too")};
  auto refused = refused_.find(view.channel->raw_channel());
  if (refused == refused_.end()) refused = refused_.find(beside);
  if (refused != refused_.end() && !held) {
    view.refused = refused->second.why;
    view.raw.reset();
    view.reading = Problem{view.refused->message, translated("bytes that are a reading")};
  }
  if (!held && is_listening() && is_silent(*view.channel))
    view.silent_s = static_cast<double>(clock_.elapsed()) / 1000 -
                    std::min(last_heard(channel_id), beside.empty() ? HUGE_VAL : last_heard(beside));
  const Range& wanted = view.channel->wanted;
  const auto budget = error_budget(*view.chain, view.reading ? *view.reading : (wanted.from + wanted.to) / 2);
  if (budget) view.budget = *budget;
  return view;
}

int Workbench::decimals_of(const ChannelView& view) {
  return view.budget && view.chain ? shown_decimals(*view.budget, *view.chain->shown) : 1;
}

}  // namespace fair_gauge::app

#include "moc_workbench.cpp"
