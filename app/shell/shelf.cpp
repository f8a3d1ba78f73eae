#include "shell/shelf.h"

#include <QTimer>

#include <algorithm>
#include <utility>

namespace fair_gauge::app {

ShelfItem::ShelfItem(const Theme& theme, QString id, QWidget* parent)
    : SelectableRow(theme, parent), id_(std::move(id)) {
  name_ = new Text(theme, Face::strong);
  name_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);  // a long name never pushes the level away
  value_ = new Text(theme, Face::number);
  unit_ = new Text(theme, Face::small, {}, Tint::quiet);
  unit_->setContentsMargins(0, 0, 0, theme.px(2));  // on the number's baseline
  vial_ = new Vial(theme, Vial::Size::small);
  auto* line = row(4);
  line->addWidget(value_);
  line->addWidget(unit_, 0, Qt::AlignBottom);
  line->addStretch();
  line->addWidget(vial_, 0, Qt::AlignVCenter);
  auto* all = column(4);
  all->setContentsMargins(16, 8, 12, 8);
  all->addWidget(name_);
  all->addLayout(line);
  setLayout(all);
}

void ShelfItem::show_view(const ChannelView& view, const NumberStyle& style, bool is_chosen) {
  mark(is_chosen);
  const QString name = view.channel->name.empty() ? id_ : text_of(view.channel->name);
  name_->setText(name_->fontMetrics().elidedText(name, Qt::ElideRight, std::max(40, width() - 32)));
  const bool has_reading = static_cast<bool>(view.reading) && view.chain;
  value_->setText(has_reading
                      ? text_of(fixed(view.chain->shown->from_base(*view.reading), Workbench::decimals_of(view), style))
                      : QStringLiteral("–"));
  unit_->setText(view.chain ? text_of(view.chain->shown->symbol) : QString());
  vial_->show_share(view.used(), view.bias());
  value_->set_tint(view.stalled().isEmpty() ? Tint::ink : Tint::quiet);
  const QString why = !has_reading    ? text_of(to_text(view.reading.problem()))
                      : view.silent_s ? tr("Nothing has come for %1").arg(duration_words(*view.silent_s))
                                      : QString();
  setToolTip(name_->text() == name ? why : why.isEmpty() ? name : name + QLatin1Char('\n') + why);
  // What a screen reader is told changes with the number only while somebody is there to hear it.
  const QString spoken = tr("Channel %1, %2 %3").arg(name, value_->text(), unit_->text());
  if (hasFocus() ? accessibleName() != spoken : !accessibleName().startsWith(tr("Channel %1,").arg(name)))
    setAccessibleName(spoken);
}

Shelf::Shelf(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QScrollArea(parent), theme_(theme), workbench_(workbench) {
  scrolls_downwards(*this);
  auto* inside = new QWidget;
  inside->setObjectName(QStringLiteral("shelf"));
  layout_ = column(0);
  auto* all = column(0);
  auto* heading = new Text(theme, Face::label, tr("CHANNELS"), Tint::quiet);
  heading->setContentsMargins(16, 16, 0, 8);
  all->addWidget(heading);
  none_ = new Text(theme, Face::small, tr("none yet"), Tint::quiet);
  none_->setContentsMargins(16, 0, 0, 0);
  all->addWidget(none_);
  all->addLayout(layout_);
  all->addStretch();
  inside->setLayout(all);
  setWidget(inside);
  setFixedWidth(theme.column_px(212));
  connect(&theme, &Theme::changed, this, [this] { setFixedWidth(theme_.column_px(212)); });
  connect(&workbench, &Workbench::values_changed, this, &Shelf::refresh);
  connect(&workbench, &Workbench::selection_changed, this, &Shelf::refresh);
  refresh();
}

void Shelf::rebuild() {
  clear(layout_);
  items_.clear();
  for (const Channel& channel : workbench_.bench().channels) {
    auto* item = new ShelfItem(theme_, text_of(channel.id));
    connect(item, &ShelfItem::chosen, this, [this, id = channel.id] { workbench_.choose_channel(id); });
    layout_->addWidget(item);
    items_.push_back(item);
  }
}

void Shelf::bring_chosen_into_view() {
  for (ShelfItem* item : items_)
    if (item->id().toStdString() == workbench_.channel_id()) ensureWidgetVisible(item, 0, 48);
}

void Shelf::refresh() {
  const auto& channels = workbench_.bench().channels;
  if (!std::ranges::equal(items_, channels, [](const ShelfItem* item, const Channel& channel) {
        return item->id().toStdString() == channel.id;
      }))
    rebuild();
  none_->setVisible(channels.empty());
  for (ShelfItem* item : items_) {
    const std::string id = item->id().toStdString();
    const bool chosen = id == workbench_.channel_id();
    item->show_view(workbench_.view(id), workbench_.style(), chosen);
    if (chosen && shown_ != id)  // once a new row has its place
      QTimer::singleShot(40, this, &Shelf::bring_chosen_into_view);
  }
  shown_ = workbench_.channel_id();
}

}  // namespace fair_gauge::app

#include "moc_shelf.cpp"
