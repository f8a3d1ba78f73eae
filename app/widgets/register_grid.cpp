#include "widgets/register_grid.h"

#include "digital/registers.h"
#include "widgets/form.h"
#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

// A field whose numbers have no words is chosen by the number, as long as a person finds it in a list.
void name_numbers(RegisterField& field) {
  const auto bits = field_bits(field);
  constexpr int most_bits = 8;
  if (!field.choices.empty() || !bits || bits->high - bits->low >= most_bits) return;
  for (unsigned number = 0; number < 2u << (bits->high - bits->low); ++number)
    field.choices.push_back({.value = static_cast<double>(number), .means = std::to_string(number)});
}

}  // namespace

RegisterGrid::RegisterGrid(const Theme& theme, QString name, QWidget* parent)
    : QWidget(parent), theme_(theme), name_(std::move(name)) {
  grid_ = new QGridLayout;
  grid_->setContentsMargins(0, 0, 0, 0);
  grid_->setHorizontalSpacing(12);
  grid_->setVerticalSpacing(4);
  grid_->setColumnStretch(3, 1);
  setLayout(grid_);
}

void RegisterGrid::show_registers(const std::vector<PartRegister>& registers, const std::vector<unsigned>& values) {
  clear(grid_);
  registers_ = registers;
  for (PartRegister& reg : registers_)
    for (RegisterField& field : reg.fields) name_numbers(field);
  values_ = values;
  digits_.clear();
  choices_.assign(registers.size(), {});
  int line = 0;
  for (std::size_t r = 0; r < registers.size(); ++r) {
    const PartRegister& reg = registers_[r];
    grid_->addWidget(new Text(theme_, Face::code, text_of(reg.address)), line, 0);
    grid_->addWidget(new Text(theme_, Face::strong, text_of(reg.name)), line, 1);
    auto* digits = new QLineEdit;
    digits->setFont(theme_.font(Face::code));
    digits->setMaximumWidth(theme_.px(80));
    digits->setObjectName(QStringLiteral("%1_%2").arg(name_).arg(r));
    digits->setAccessibleName(tr("Value of %1").arg(text_of(reg.name)));
    digits->setToolTip(tr("Hexadecimal, as it was read or will be written"));
    grid_->addWidget(digits, line++, 2);
    digits_.push_back(digits);
    connect(digits, &QLineEdit::editingFinished, this, [this, r, digits] {
      const auto value = read_register(registers_[r], digits->text().toStdString());
      emit refused(value ? QString() : text_of(to_text(value.problem())));
      if (!value) return;
      values_[r] = *value;
      show_values();
      emit changed();
    });
    for (std::size_t f = 0; f < reg.fields.size(); ++f) add_field(r, f, line++);
  }
  show_values();
}

void RegisterGrid::add_field(std::size_t r, std::size_t f, int line) {
  const RegisterField& field = registers_[r].fields[f];
  auto* label =
      new Text(theme_, Face::small,
               text_of(field.name) + QStringLiteral("  [") + text_of(field.bits) + QLatin1Char(']'), Tint::quiet);
  QStringList words;
  for (const SettingChoice& choice : field.choices) words << in_own_marks(text_of(choice.means));
  auto* box = choice_box(words << tr("reserved"), "", text_of(field.name));
  box->setObjectName(QStringLiteral("%1_%2_%3").arg(name_).arg(r).arg(f));
  box->setMinimumContentsLength(26);
  choices_[r].push_back(box);
  grid_->addWidget(label, line, 1);
  grid_->addWidget(box, line, 2);
  for (QWidget* each : {static_cast<QWidget*>(label), static_cast<QWidget*>(box)})
    each->setToolTip(in_own_marks(text_of(field.means)));
  const bool has_room = theme_.text_scale() < 1.2;  // else the tooltip has to do
  if (!field.means.empty() && has_room) {
    auto* means = new Text(theme_, Face::small, text_of(field.means), Tint::quiet);
    means->setWordWrap(true);
    grid_->addWidget(means, line, 3);
  }
  connect(box, &QComboBox::activated, this, [this, r, f](int index) {
    const RegisterField& changed_field = registers_[r].fields[f];
    if (index < static_cast<int>(changed_field.choices.size()))
      values_[r] = with_field(changed_field, values_[r],
                              static_cast<unsigned>(changed_field.choices[static_cast<std::size_t>(index)].value));
    show_values();
    emit changed();
  });
}

void RegisterGrid::show_values() {
  for (std::size_t r = 0; r < registers_.size(); ++r) {
    digits_[r]->setText(text_of(write_register(registers_[r], values_[r])));
    for (std::size_t f = 0; f < choices_[r].size(); ++f) {
      const auto& choices = registers_[r].fields[f].choices;
      const auto now = static_cast<double>(field_value(registers_[r].fields[f], values_[r]));
      choices_[r][f]->setCurrentIndex(
          static_cast<int>(std::ranges::find(choices, now, &SettingChoice::value) - choices.begin()));
    }
  }
}

std::map<std::string, double> RegisterGrid::changed_values() const {
  std::map<std::string, double> changed;
  for (std::size_t r = 0; r < registers_.size(); ++r)
    if (values_[r] != static_cast<unsigned>(registers_[r].power_on)) changed[registers_[r].address] = values_[r];
  return changed;
}

void RegisterGrid::tell_choices(const std::function<QString(const std::vector<unsigned>& values)>& words) {
  for (std::size_t r = 0; r < registers_.size(); ++r)
    for (std::size_t f = 0; f < choices_[r].size(); ++f) {
      const RegisterField& field = registers_[r].fields[f];
      for (std::size_t i = 0; i < field.choices.size(); ++i) {
        auto others = values_;
        others[r] = with_field(field, others[r], static_cast<unsigned>(field.choices[i].value));
        choices_[r][f]->setItemData(static_cast<int>(i), words(others), Qt::ToolTipRole);
      }
    }
}

}  // namespace fair_gauge::app

#include "moc_register_grid.cpp"
