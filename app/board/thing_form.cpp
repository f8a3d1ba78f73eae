#include "board/thing_form.h"

#include <cmath>

#include "chain/converter_part.h"
#include "digital/byte_text.h"
#include "language/translation.h"
#include "quantity/number_format.h"
#include "wiring/address_plan.h"

namespace fair_gauge::app {
namespace {

QString value_text(double value, Dimension dimension, const NumberStyle& style) {
  if (dimension == Dimension::voltage) return text_of(with_prefix(value, "V", 4, style));
  return text_of(fixed(value, value == std::round(value) ? 0 : 2, style));
}

}  // namespace

ThingForm::ThingForm(const Theme& theme, Workbench& workbench, Thing thing, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench), thing_(std::move(thing)), form_(new Form(theme)) {
  auto* all = column(0);
  all->addWidget(form_);
  setLayout(all);
  switch (thing_.kind) {
    case ThingKind::rail: add_rail_rows(); break;
    case ThingKind::converter: add_converter_rows(); break;
    case ThingKind::bus: add_bus_rows(); break;
    case ThingKind::device: add_device_rows(); break;
    case ThingKind::channel: add_channel_rows(); break;
  }
  refresh();
}

void ThingForm::refresh() {
  for (const auto& row : rows_) row();
}

template <class T>
void ThingForm::add_words(Items<T> items, const QString& label, const QString& why, const char* name,
                          std::string T::*member) {
  QLineEdit* line = form_->add_words(label, why, name, [this, items, member, label](const QString& words) {
    const T* now = find_by_id(workbench_.bench().*items, thing_.id);
    if (!now || now->*member == words.toStdString()) return;
    workbench_.document().edit(
        label, [&](Bench& bench) { find_by_id(bench.*items, thing_.id)->*member = words.toStdString(); });
  });
  rows_.push_back([this, items, member, line] {
    const T* now = find_by_id(workbench_.bench().*items, thing_.id);
    if (!now || (line->hasFocus() && line->isModified())) return;
    if (line->text() == text_of(now->*member)) return;
    line->setText(text_of(now->*member));
    line->setCursorPosition(0);
  });
}

template <class T>
void ThingForm::add_name(Items<T> items, const QString& why) {
  add_words<T>(items, tr("Name"), why, "thing_name", &T::name);
}

template <class T>
void ThingForm::add_number(Items<T> items, const QString& label, const QString& why, Dimension dimension,
                           const char* name, double least, double most, std::function<double(const T&)> get,
                           std::function<void(T&, double)> set) {
  const auto given = [=, this](double value) {
    const auto words = [&](double each) { return value_text(each, dimension, workbench_.style()).toStdString(); };
    if (!(value >= least && value <= most))
      return form_->findChild<QuantityField*>(QLatin1String(name))
          ->show_problem({translated("{} cannot be", words(value)), translated("{} to {}", words(least), words(most))});
    workbench_.document().edit(label, [&](Bench& bench) {
      if (T* changed = find_by_id(bench.*items, thing_.id)) set(*changed, value);
    });
  };
  QuantityField* field = form_->add_quantity(label, why, dimension, name, given);
  rows_.push_back([this, items, dimension, field, get] {
    if (const T* now = find_by_id(workbench_.bench().*items, thing_.id))
      field->show_value(get(*now), value_text(get(*now), dimension, workbench_.style()));
  });
}

template <class T>
void ThingForm::add_measured(Items<T> items, const char* name, KnownVoltage T::*of) {
  const QString label = tr("As measured");
  add_number<T>(
      items, label, tr("Read with a meter; it counts instead of the nominal value. Empty the field to forget it"),
      Dimension::voltage, name, 0.5, 60, [of](const T& now) { return (now.*of).measured_v.value_or(std::nan("")); },
      [of](T& changed, double volts) { (changed.*of).measured_v = volts; });
  form_->findChild<QuantityField*>(QLatin1String(name))->set_emptied(tr("not measured"), [=, this] {
    workbench_.document().edit(label, [&](Bench& bench) {
      if (T* changed = find_by_id(bench.*items, thing_.id)) (changed->*of).measured_v.reset();
    });
  });
}

template <class T>
void ThingForm::add_choice(Items<T> items, const QString& label, const QString& why, const QStringList& choices,
                           const char* name, std::function<int(const T&)> get, std::function<void(T&, int)> set) {
  QComboBox* box = form_->add_choice(label, why, choices, name, [this, items, label, set](int chosen) {
    workbench_.document().edit(label, [&](Bench& bench) {
      if (T* changed = find_by_id(bench.*items, thing_.id)) set(*changed, chosen);
    });
  });
  rows_.push_back([this, items, box, get] {
    if (const T* now = find_by_id(workbench_.bench().*items, thing_.id)) box->setCurrentIndex(get(*now));
  });
}

template <class T, class Of>
void ThingForm::add_link(Items<T> items, const QString& label, const QString& why, const char* name, Items<Of> others,
                         const QString& none, std::function<std::string&(T&)> id, std::function<bool(const Of&)> fits) {
  const auto offered = [this, others, fits](const std::string& now) {
    std::vector<const Of*> all;
    for (const Of& each : workbench_.bench().*others)
      if (fits(each) || each.id == now) all.push_back(&each);
    return all;
  };
  QComboBox* box = form_->add_choice(label, why, {}, name, [this, items, label, id, offered](int chosen) {
    const T* now = find_by_id(workbench_.bench().*items, thing_.id);
    if (!now) return;
    T copy = *now;
    const auto all = offered(id(copy));
    const auto at = static_cast<std::size_t>(chosen);
    const std::string wanted = chosen == 0 || at > all.size() ? std::string() : all[at - 1]->id;
    workbench_.document().edit(label, [&](Bench& bench) {
      if (T* changed = find_by_id(bench.*items, thing_.id)) id(*changed) = wanted;
    });
  });
  rows_.push_back([this, items, none, id, box, offered] {
    const T* now = find_by_id(workbench_.bench().*items, thing_.id);
    if (!now) return;
    T copy = *now;
    QStringList names{none};
    int chosen = 0;
    for (const Of* each : offered(id(copy))) {
      if (each->id == id(copy)) chosen = static_cast<int>(names.size());
      names << text_of(called(*each));
    }
    box->clear();
    box->addItems(names);
    box->setCurrentIndex(chosen);
  });
}

void ThingForm::add_rail_rows() {
  const auto items = &Bench::rails;
  add_name<Rail>(items, tr("What you call this supply"));
  add_number<Rail>(
      items, tr("Nominal"), tr("By its label or the regulator's sheet"), Dimension::voltage, "rail_nominal", 0.5, 60,
      [](const Rail& rail) { return rail.voltage.nominal_v; },
      [](Rail& rail, double value) { rail.voltage.nominal_v = value; });
  add_measured<Rail>(items, "rail_measured", &Rail::voltage);
  add_number<Rail>(
      items, tr("Its tolerance ±, per cent"),
      tr("Of the nominal value; once it is measured, the meter's own error counts instead"), Dimension::number,
      "rail_tolerance", 0, 50,
      [](const Rail& rail) {
        return 100 * (rail.voltage.measured_v ? rail.voltage.meter_uncertainty : rail.voltage.tolerance);
      },
      [](Rail& rail, double value) {
        (rail.voltage.measured_v ? rail.voltage.meter_uncertainty : rail.voltage.tolerance) = value / 100;
      });
}

void ThingForm::add_converter_rows() {
  const auto items = &Bench::converters;
  add_name<Converter>(items, tr("What you call this converter"));
  QStringList names = {tr("the controller's own")};
  std::vector<std::string> parts = {""};
  for (const Part& part : workbench_.catalogue().parts()) {
    if (!is_converter(part)) continue;
    parts.push_back(part.id);
    names << text_of(part.name) +
                 (part.markings.empty() ? QString() : QStringLiteral("  ") + text_of(part.markings.front()));
  }
  add_choice<Converter>(
      items, tr("Part"), tr("One of its own on a bus: bits, range and gain then follow from its sheet"), names,
      "converter_part",
      [parts, this](const Converter& each) {
        const Part* part = workbench_.catalogue().find(each.part);  // a file may name it by its marking
        return static_cast<int>(std::ranges::find(parts, part ? part->id : each.part) - parts.begin());
      },
      [parts, this](Converter& each, int chosen) {
        const Part* part = workbench_.catalogue().find(parts[static_cast<std::size_t>(chosen)]);
        if (part)
          each = with_part(each, *part);
        else
          each.part.clear(), each.settings.clear(), each.address = 0;
      });
  add_number<Converter>(
      items, tr("Bits"), tr("Of the converter itself"), Dimension::number, "converter_bits", 1, 24,
      [](const Converter& each) { return each.bits; },
      [](Converter& each, double value) { each.bits = static_cast<int>(std::lround(value)); });
  add_link<Converter, Rail>(items, tr("Measures against"), tr("The supply that is its reference, or one of its own"),
                            "converter_rail", &Bench::rails, tr("a reference of its own"),
                            [](Converter& each) -> std::string& { return each.reference_rail; });
  add_number<Converter>(
      items, tr("Its own reference"), tr("Where it measures against no supply: by its label or sheet"),
      Dimension::voltage, "converter_reference", 0.1, 60,
      [](const Converter& each) { return each.reference.nominal_v; },
      [](Converter& each, double value) { each.reference.nominal_v = value; });
  rows_.push_back([this, items, field = form_->findChild<QuantityField*>(QStringLiteral("converter_reference"))] {
    if (const Converter* now = find_by_id(workbench_.bench().*items, thing_.id))
      field->setEnabled(now->reference_rail.empty());
  });
  add_choice<Converter>(
      items, tr("Inputs"), tr("From ground upwards, or of both signs (differential)"),
      {tr("from 0 V"), tr("both signs")}, "converter_inputs",
      [](const Converter& each) { return static_cast<int>(each.polarity); },
      [](Converter& each, int chosen) { each.polarity = static_cast<Polarity>(chosen); });
  add_choice<Converter>(
      items, tr("Divisor"),
      tr("2ⁿ: one step is reference ÷ 2ⁿ, as most data sheets define it. 2ⁿ − 1: the top code reads exactly the "
         "reference"),
      {tr("2ⁿ (steps)"), tr("2ⁿ − 1 (codes)")}, "converter_divisor",
      [](const Converter& each) { return static_cast<int>(each.convention); },
      [](Converter& each, int chosen) { each.convention = static_cast<CodeConvention>(chosen); });
}

void ThingForm::add_bus_rows() {
  const auto items = &Bench::buses;
  add_name<Bus>(items, tr("What you call these conductors"));
  add_choice<Bus>(
      items, tr("Kind"), tr("How its parts speak"),
      {tr("two-wire bus"), tr("one-wire line"), tr("single-wire line"), tr("alert line")}, "bus_kind",
      [](const Bus& each) { return static_cast<int>(each.kind); },
      [](Bus& each, int chosen) { each.kind = static_cast<BusKind>(chosen); });
  add_link<Bus, Rail>(items, tr("Supply"), tr("Of the controller's side"), "bus_feed_rail", &Bench::rails,
                      tr("not fed yet"), [](Bus& each) -> std::string& { return each.rail; });
}

void ThingForm::add_device_rows() {
  const auto items = &Bench::devices;
  const Device* device = find_by_id(workbench_.bench().devices, thing_.id);
  const Part* part = device ? workbench_.catalogue().find(device->part) : nullptr;
  add_words<Device>(items, tr("Where it sits"), tr("In a few words"), "device_place", &Device::place);
  if (part && part->is_digital()) {
    // Others end at the controller's pins, each line by itself.
    const bool shares_lines = part->interface == Interface::i2c || part->interface == Interface::one_wire ||
                              part->interface == Interface::single_wire;
    if (shares_lines || !device->bus.empty())
      add_link<Device, Bus>(
          items, tr("Hangs on"), tr("The bus or line that its bytes come over"), "device_bus", &Bench::buses,
          tr("no bus yet"), [](Device& each) -> std::string& { return each.bus; },
          [](const Bus& each) { return each.kind != BusKind::alert; });
    if (std::ranges::any_of(workbench_.bench().buses, [](const Bus& each) { return each.kind == BusKind::alert; }))
      add_link<Device, Bus>(
          items, tr("Alert output"), tr("The alert line that it pulls down beside its bus"), "device_alert",
          &Bench::buses, tr("not connected"), [](Device& each) -> std::string& { return each.alert; },
          [](const Bus& each) { return each.kind == BusKind::alert; });
    if (!part->addresses.empty()) {
      QStringList choices;
      std::vector<int> addresses;
      for (const PartAddress& each : part->addresses) {
        addresses.push_back(each.address);
        choices << text_of(address_text(each.address)) +
                       (each.pins.empty() ? QString() : QStringLiteral("  ") + text_of(each.pins));
      }
      add_choice<Device>(
          items, tr("Address"), tr("As its pins are tied"), choices, "device_address",
          [addresses](const Device& each) {
            return static_cast<int>(std::ranges::find(addresses, each.address) - addresses.begin());
          },
          [addresses](Device& each, int chosen) { each.address = addresses[static_cast<std::size_t>(chosen)]; });
    }
    add_link<Device, Rail>(items, tr("Fed by"), tr("The supply of this part"), "device_rail", &Bench::rails,
                           tr("its bus's supply"), [](Device& each) -> std::string& { return each.rail; });
  } else if (part) {
    if (part->interface != Interface::pulse_count)
      add_link<Device, Converter>(items, tr("Read by"), tr("The converter whose pin it ends at"), "device_converter",
                                  &Bench::converters, tr("no converter yet"),
                                  [](Device& each) -> std::string& { return each.converter; });
    add_link<Device, Rail>(items, tr("Fed by"), tr("The supply of its divider, or of the part"), "device_rail",
                           &Bench::rails, tr("nothing stated"),
                           [](Device& each) -> std::string& { return each.front_end.rail; });
  }
  add_words<Device>(items, tr("Pads in order"),
                    tr("Of the board or package it is on, as printed, spaces between: VIN GND SCL SDA. Wires then says "
                       "which pad each conductor goes to"),
                    "device_pads", &Device::pads);
  add_words<Device>(items, tr("Serial or mark"), tr("What tells this specimen from its like"), "device_serial",
                    &Device::serial);
}

void ThingForm::add_channel_rows() {
  const auto items = &Bench::channels;
  add_name<Channel>(items, tr("What you call this reading"));
  add_words<Channel>(items, tr("Where"), tr("Where the sensor sits, in a few words"), "channel_place", &Channel::place);
  add_words<Channel>(items, tr("On the line"),
                     tr("The name that your firmware sends it under; without one it is its id"), "channel_line_name",
                     &Channel::line_name);
}

}  // namespace fair_gauge::app

#include "moc_thing_form.cpp"
