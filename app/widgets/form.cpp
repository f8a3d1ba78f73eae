#include "widgets/form.h"

#include <QListView>

#include "widgets/text.h"

namespace fair_gauge::app {

QComboBox* choice_box(const QStringList& choices, const char* name, const QString& means) {
  auto* box = new QComboBox;
  box->setView(new QListView);
  box->addItems(choices);
  box->setObjectName(QLatin1String(name));
  box->setAccessibleName(means);
  box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  box->setMinimumContentsLength(8);
  return box;
}

Form::Form(const Theme& theme, QWidget* parent) : QWidget(parent), theme_(theme) {
  grid_ = new QGridLayout;
  grid_->setContentsMargins(0, 0, 0, 0);
  grid_->setHorizontalSpacing(8);
  grid_->setVerticalSpacing(4);
  grid_->setColumnStretch(0, 3);
  grid_->setColumnStretch(1, 4);
  echo_ = new Text(theme, Face::small, {}, Tint::second);
  echo_->setObjectName(QStringLiteral("form_echo"));
  echo_->setWordWrap(true);
  auto* all = column(4);
  all->addLayout(grid_);
  all->addWidget(echo_);
  setLayout(all);
}

void Form::add_row(const QString& label, const QString& why, const char* name, QWidget* editor) {
  auto* words = new Text(theme_, Face::small, label);
  words->setWordWrap(true);
  words->setToolTip(in_own_marks(why));
  editor->setToolTip(in_own_marks(why));
  editor->setObjectName(QLatin1String(name));
  editor->setAccessibleName(label);
  grid_->addWidget(words, rows_, 0);
  grid_->addWidget(editor, rows_++, 1);
}

QuantityField* Form::add_quantity(const QString& label, const QString& why, Dimension dimension, const char* name,
                                  std::function<void(double)> given) {
  auto* field = new QuantityField(theme_, dimension);
  field->setFont(theme_.font(Face::number_small));
  field->setMinimumWidth(0);
  connect(&theme_, &Theme::changed, field, [this, field] { field->setFont(theme_.font(Face::number_small)); });
  connect(field, &QuantityField::echo_changed, this, [this](const QString& echo, bool faulty) {
    echo_->setText(echo);
    echo_->set_tint(faulty ? Tint::red : Tint::second);
  });
  connect(field, &QuantityField::value_given, this, std::move(given));
  add_row(label, why, name, field);
  return field;
}

QComboBox* Form::add_choice(const QString& label, const QString& why, const QStringList& choices, const char* name,
                            std::function<void(int)> chosen) {
  QComboBox* box = choice_box(choices, name, label);
  connect(box, &QComboBox::activated, this, std::move(chosen));
  add_row(label, why, name, box);
  return box;
}

QLineEdit* Form::add_words(const QString& label, const QString& why, const char* name,
                           std::function<void(const QString&)> given) {
  auto* line = new QLineEdit;
  connect(line, &QLineEdit::editingFinished, this, [line, given = std::move(given)] {
    line->setModified(false);  // it is settled: what undo brings back may take its place
    given(line->text().trimmed());
  });
  add_row(label, why, name, line);
  return line;
}

void Form::add_heading(const QString& words) {
  auto* heading = new Text(theme_, Face::label, words, Tint::quiet);
  heading->setContentsMargins(0, rows_ == 0 ? 0 : 8, 0, 0);
  grid_->addWidget(heading, rows_++, 0, 1, 2);
}

void Form::add_wide(QWidget* widget) { grid_->addWidget(widget, rows_++, 0, 1, 2); }

}  // namespace fair_gauge::app

#include "moc_form.cpp"
