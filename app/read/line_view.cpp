#include "read/line_view.h"

#include <QLineEdit>
#include <QListView>
#include <QScrollArea>
#include <QSerialPortInfo>

#include "sources/serial_source.h"

namespace fair_gauge::app {
namespace {

constexpr int most_shown_lines = 400;

QString title_of(LineState state) {
  switch (state) {
    case LineState::stopped: return LineView::tr("Not connected");
    case LineState::running: return LineView::tr("Connected");
    case LineState::silent: return LineView::tr("Connected, but silent");
    case LineState::noise: return LineView::tr("Noise: wrong speed?");
    case LineState::held: return LineView::tr("Held by another program");
    case LineState::missing: return LineView::tr("No such line");
    case LineState::hung_up: return LineView::tr("Hung up");
  }
  return {};
}

QComboBox* plain_box() {
  auto* box = new QComboBox;
  box->setView(new QListView);
  return box;
}

}  // namespace

LineView::LineView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  port_ = plain_box();
  port_->setObjectName(QStringLiteral("port"));
  port_->setEditable(true);
  port_->setAccessibleName(tr("Serial line"));
  port_->lineEdit()->setPlaceholderText(tr("such as /dev/ttyUSB0"));
  port_->setMinimumWidth(theme.column_px(140));
  port_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  port_->setMaximumWidth(theme.px(260));
  speed_ = plain_box();
  speed_->setObjectName(QStringLiteral("speed"));
  speed_->setAccessibleName(tr("Speed in baud"));
  for (const int baud : SerialSource::usual_speeds()) speed_->addItem(tr("%1 baud").arg(baud), baud);
  speed_->setCurrentIndex(speed_->findData(115200));
  connect_ = new QPushButton(tr("Connect"));
  connect_->setObjectName(QStringLiteral("connect"));
  connect_->setProperty("primary", true);
  shed_ = new QPushButton(tr("Simulated shed"));
  shed_->setObjectName(QStringLiteral("shed"));
  state_ = new Text(theme, Face::strong);
  state_->setObjectName(QStringLiteral("line_state"));
  advice_ = new Text(theme, Face::text, {}, Tint::quiet);
  advice_->setWordWrap(true);
  lines_ = new QPlainTextEdit;
  lines_->setTabChangesFocus(true);
  lines_->setObjectName(QStringLiteral("raw_lines"));
  lines_->setReadOnly(true);
  lines_->setMaximumBlockCount(most_shown_lines);
  lines_->setFont(theme.font(Face::code));
  lines_->setFrameShape(QFrame::NoFrame);
  lines_->setAccessibleName(tr("Lines as they arrive"));
  names_ = new QGridLayout;
  names_->setHorizontalSpacing(16);
  names_->setVerticalSpacing(8);
  no_names_ = new Text(theme, Face::small,
                       tr("Names appear here as they arrive. Lines may read name:1873, name:0x751, name:x0751, a CSV "
                          "row with a header, or bare numbers."),
                       Tint::quiet);
  no_names_->setWordWrap(true);

  auto* line = row(8);
  line->addWidget(port_);
  line->addWidget(speed_);
  line->addWidget(connect_);
  line->addStretch();
  auto* left = column(8);
  left->addWidget(new Text(theme, Face::label, tr("LINES AS THEY ARRIVE"), Tint::quiet));
  left->addWidget(lines_, 1);
  auto* right = column(8);
  right->addWidget(new Text(theme, Face::label, tr("WHICH NAME IS WHICH CHANNEL"), Tint::quiet));
  right->addWidget(no_names_);
  auto* names_inside = new QWidget;
  auto* names_column = column(0);
  names_column->addLayout(names_);
  names_column->addStretch();
  names_inside->setLayout(names_column);
  right->addWidget(scrolled(names_inside), 1);
  auto* below = row(24);
  below->addLayout(left, 3);
  below->addLayout(right, 2);
  auto* all = column(8);
  all->setContentsMargins(0, 0, 0, 0);
  auto* head = row(8);
  head->addWidget(new Text(theme, Face::title, tr("What a board sends")));
  head->addStretch();
  head->addWidget(shed_);
  all->addLayout(head);
  all->addLayout(line);
  all->addWidget(state_);
  all->addWidget(advice_);
  all->addSpacing(8);
  all->addLayout(below, 1);
  setLayout(all);

  connect(connect_, &QPushButton::clicked, this, &LineView::connect_line);
  connect(port_->lineEdit(), &QLineEdit::returnPressed, this, &LineView::connect_line);
  connect(speed_, &QComboBox::activated, this, [this] {
    if (workbench_.listens_to_line() && workbench_.source().state() != LineState::stopped)
      workbench_.listen_to_line(port_->currentText(), speed_->currentData().toInt());
  });
  connect(shed_, &QPushButton::clicked, this, [this] { workbench_.listen_to_shed(); });
  connect(&workbench, &Workbench::source_changed, this, &LineView::refresh_state);
  connect(&workbench, &Workbench::line_came, this, &LineView::add_line);
  connect(&theme, &Theme::changed, this, [this] { lines_->setFont(theme_.font(Face::code)); });
  refresh_state();
}

void LineView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  list_ports();
  lines_->clear();
  for (const RawLine& line : workbench_.raw_lines()) add_line(line);
}

void LineView::list_ports() {
  const QString written = port_->currentText();
  port_->clear();
  for (const QSerialPortInfo& info : QSerialPortInfo::availablePorts()) port_->addItem(info.systemLocation());
  port_->setCurrentText(written);
}

void LineView::connect_line() {
  const bool connected = workbench_.listens_to_line() && workbench_.source().state() != LineState::stopped;
  if (connected) return workbench_.stop_listening();
  if (port_->currentText().trimmed().isEmpty()) {
    state_->setText(tr("No line is named"));
    state_->set_tint(Tint::red);
    advice_->setText(tr("Type the line's path, such as /dev/ttyUSB0, or choose one from the list."));
    return;
  }
  lines_->clear();
  workbench_.listen_to_line(port_->currentText(), speed_->currentData().toInt());
}

void LineView::refresh_state() {
  const LiveSource& source = workbench_.source();
  const bool serial = workbench_.listens_to_line();
  connect_->setText(serial && source.state() != LineState::stopped ? tr("Disconnect") : tr("Connect"));
  shed_->setEnabled(serial || source.state() == LineState::stopped);
  state_->setText(serial || source.state() == LineState::stopped ? title_of(source.state()) : tr("Simulated shed"));
  state_->set_tint(source.state() == LineState::running   ? Tint::accent
                   : source.state() == LineState::stopped ? Tint::quiet
                                                          : Tint::red);
  advice_->setText(!serial && source.state() == LineState::running
                       ? tr("Every channel answers by its own chain with noise, as a board would. Connect a line to "
                            "read a real one.")
                       : source.words());
  refresh_names();
}

void LineView::add_line(const RawLine& line) {
  if (!isVisible()) return;
  lines_->appendPlainText(line.fault.isEmpty() ? line.text : QStringLiteral("%1    ✗ %2").arg(line.text, line.fault));
  refresh_names();
}

void LineView::refresh_names() {
  QStringList names;
  for (const auto& [name, value] : workbench_.names_on_line()) names << text_of(name);
  no_names_->setVisible(names.isEmpty());
  if (names != listed_) {
    listed_ = names;
    clear(names_);
    for (int i = 0; i < names.size(); ++i) {
      auto* box = plain_box();
      box->setAccessibleName(tr("Channel of %1").arg(names[i]));
      box->addItem(tr("no channel"), QString());
      for (const Channel& channel : workbench_.bench().channels)
        box->addItem(text_of(channel.name.empty() ? channel.id : channel.name), text_of(channel.id));
      names_->addWidget(new Text(theme_, Face::number_small, names[i]), i, 0);
      names_->addWidget(new Text(theme_, Face::number_small, {}, Tint::quiet), i, 1);
      names_->addWidget(box, i, 2);
      connect(box, &QComboBox::activated, this, [this, box, name = names[i]] {
        workbench_.document().edit(tr("Channel of %1").arg(name), [&](Bench& bench) {
          for (Channel& channel : bench.channels) {
            if (channel.id == box->currentData().toString().toStdString())
              channel.line_name = name.toStdString();
            else if (channel.name_on_line() == name.toStdString())
              channel.line_name = "-";
          }
        });
      });
    }
  }
  for (int i = 0; i < listed_.size(); ++i) {
    const auto value = workbench_.names_on_line().find(listed_[i].toStdString());
    static_cast<Text*>(names_->itemAtPosition(i, 1)->widget())->setText(value->second);
    auto* box = static_cast<QComboBox*>(names_->itemAtPosition(i, 2)->widget());
    if (box->view()->isVisible()) continue;
    int index = 0;
    for (std::size_t k = 0; k < workbench_.bench().channels.size(); ++k)
      if (workbench_.bench().channels[k].name_on_line() == listed_[i].toStdString()) index = static_cast<int>(k) + 1;
    box->setCurrentIndex(index);
  }
}

}  // namespace fair_gauge::app
