#include "home/start_box.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "parts/catalogue.h"
#include "widgets/form.h"
#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

// A board with pins, a small house, a line that carries something.
class Drawing : public QWidget {
 public:
  Drawing(const Theme& theme, int which) : theme_(theme), which_(which) { setFixedSize(theme.px(72), theme.px(44)); }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.scale(width() / 72.0, height() / 44.0);
    painter.setPen(QPen(theme_.colours().quiet, 1.4));
    const QColor accent = theme_.colours().accent;
    if (which_ == 0) {
      painter.drawRoundedRect(QRectF(8, 10, 56, 24), 3, 3);
      for (int i = 0; i < 8; ++i)
        for (const double y : {6.0, 34.0}) painter.drawLine(QPointF(14 + i * 6.3, y), QPointF(14 + i * 6.3, y + 4));
      painter.setBrush(accent);
      painter.setPen(Qt::NoPen);
      painter.drawRect(QRectF(28, 17, 16, 10));
    } else if (which_ == 1) {
      QPainterPath house;
      house.moveTo(14, 40), house.lineTo(14, 20), house.lineTo(36, 6), house.lineTo(58, 20), house.lineTo(58, 40);
      house.closeSubpath();
      painter.drawPath(house);
      painter.setPen(QPen(accent, 2));
      for (const double y : {26.0, 33.0}) painter.drawLine(QPointF(20, y), QPointF(52, y));
    } else {
      QPainterPath wave;
      wave.moveTo(4, 30);
      for (int i = 0; i < 5; ++i) {
        const double x = 4 + i * 13.0;
        wave.lineTo(x, 14), wave.lineTo(x + 6, 14), wave.lineTo(x + 6, 30), wave.lineTo(x + 13, 30);
      }
      painter.setPen(QPen(accent, 1.8));
      painter.drawPath(wave);
    }
  }

 private:
  const Theme& theme_;
  int which_;
};

}  // namespace

StartBox::StartBox(const Theme& theme, QWidget* parent) : QWidget(parent), theme_(theme) {
  name_ = new QLineEdit;
  name_->setObjectName(QStringLiteral("new_bench_name"));
  name_->setPlaceholderText(tr("its name: greenhouse, boiler room"));
  name_->setMaxLength(80);
  name_->setAccessibleName(tr("Name of the new bench"));
  preset_ = new QComboBox;
  preset_->setObjectName(QStringLiteral("new_bench_preset"));
  preset_->setAccessibleName(tr("Its controller"));
  preset_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  preset_->setMinimumContentsLength(24);
  list_presets();
  note_ = new Text(theme, Face::small, {}, Tint::quiet);
  note_->setWordWrap(true);
  connect(preset_, &QComboBox::currentIndexChanged, this, &StartBox::show_preset);
  auto* begin = new QPushButton(tr("Begin this bench"));
  begin->setObjectName(QStringLiteral("new_bench"));
  begin->setProperty("primary", true);
  begin->setEnabled(!presets_.empty());
  const auto make = [this] {
    const int at = preset_->currentIndex();
    if (at < 0 || at >= static_cast<int>(presets_.size())) return;
    const QString name = name_->text().trimmed();
    emit new_bench_wanted(bench_of_preset(presets_[static_cast<std::size_t>(at)],
                                          (name.isEmpty() ? tr("My bench") : name).toStdString()));
  };
  connect(begin, &QPushButton::clicked, this, make);
  connect(name_, &QLineEdit::returnPressed, this, make);
  auto* demonstration = new QPushButton(tr("Open the demonstration bench"));
  connect(demonstration, &QPushButton::clicked, this, &StartBox::demonstration_wanted);
  auto* listen = new QPushButton(tr("Listen to a board"));
  listen->setObjectName(QStringLiteral("listen_first"));
  connect(listen, &QPushButton::clicked, this, &StartBox::listening_wanted);

  auto* of_new = card(0, tr("A new bench"),
                      tr("Your controller brings its supplies, converters and buses; all of it "
                         "can be changed afterwards."));
  auto* choices = column(8);
  for (QWidget* each : {static_cast<QWidget*>(name_), static_cast<QWidget*>(preset_), static_cast<QWidget*>(note_)})
    choices->addWidget(each);
  choices->addWidget(begin, 0, Qt::AlignLeft);
  put_under(*of_new, choices);
  auto* of_demonstration = card(1, tr("The demonstration"),
                                tr("Fernhollow, a mushroom shed with sixteen channels and a simulated life of its own. "
                                   "Nothing in it is real, everything in it works."));
  auto* show = column(0);
  show->addWidget(demonstration, 0, Qt::AlignLeft);
  put_under(*of_demonstration, show);
  auto* of_listening = card(2, tr("What a board already sends"),
                            tr("Connect the board and see its lines as they come: name:value, CSV, or bytes."));
  auto* line = column(0);
  line->addWidget(listen, 0, Qt::AlignLeft);
  put_under(*of_listening, line);
  auto* all = column(20);
  for (QWidget* each : {of_new, of_demonstration, of_listening}) all->addWidget(each);
  all->addStretch();
  setLayout(all);
  setFixedWidth(theme.column_px(600));
  connect(&theme, &Theme::changed, this, [this] { setFixedWidth(theme_.column_px(600)); });
  show_preset();
}

QWidget* StartBox::card(int drawing, const QString& title, const QString& words) {
  auto* inside = new QWidget;
  auto* text = column(2);
  text->addWidget(new Text(theme_, Face::strong, title));
  auto* says = new Text(theme_, Face::small, words, Tint::quiet);
  says->setWordWrap(true);
  text->addWidget(says);
  auto* head = row(16);
  head->addWidget(new Drawing(theme_, drawing), 0, Qt::AlignTop);
  head->addLayout(text, 1);
  auto* all = column(8);
  all->addLayout(head);
  inside->setLayout(all);
  return inside;
}

// Below the words, not below the drawing.
void StartBox::put_under(QWidget& card, QLayout* controls) {
  controls->setContentsMargins(theme_.px(72) + 16, 0, 0, 0);
  static_cast<QVBoxLayout*>(card.layout())->addLayout(controls);
}

// Those that were kept meanwhile too.
void StartBox::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  list_presets();
  show_preset();
}

void StartBox::ask_for_name() { name_->setFocus(); }

void StartBox::forget_name() { name_->clear(); }

void StartBox::list_presets() {
  const QString chosen = preset_->currentText();
  const QSignalBlocker quiet(preset_);
  presets_ = load_board_presets(data_folders("boards"));
  preset_->clear();
  for (const BoardPreset& preset : presets_) preset_->addItem(in_own_marks(text_of(preset.bench.board.name)));
  const auto usual = std::ranges::find(presets_, "10-bit-5v", &BoardPreset::id);
  const int before = preset_->findText(chosen);
  if (before >= 0)
    preset_->setCurrentIndex(before);
  else if (usual != presets_.end())
    preset_->setCurrentIndex(static_cast<int>(usual - presets_.begin()));
}

void StartBox::show_preset() {
  const int at = preset_->currentIndex();
  if (at < 0 || at >= static_cast<int>(presets_.size())) return;
  const Bench& bench = presets_[static_cast<std::size_t>(at)].bench;
  QStringList brings;
  for (const Rail& rail : bench.rails) brings << text_of(rail.name);
  for (const Converter& converter : bench.converters) brings << text_of(converter.name);
  for (const Bus& bus : bench.buses) brings << text_of(bus.name);
  QString words = tr("Brings: %1.").arg(brings.join(QStringLiteral(", ")));
  if (!bench.board.note.empty()) words += QLatin1Char(' ') + text_of(bench.board.note);
  note_->setText(words);
}

}  // namespace fair_gauge::app

#include "moc_start_box.cpp"
