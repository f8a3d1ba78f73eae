// What can be changed of one thing of the bench, as rows of a form that follow the bench.
#pragma once

#include <QWidget>
#include <functional>
#include <vector>

#include "bench/bench_things.h"
#include "shell/workbench.h"
#include "widgets/form.h"

namespace fair_gauge::app {

class ThingForm : public QWidget {
  Q_OBJECT
 public:
  /// \param thing  stays the one that is shown; without it the form has nothing to show
  ThingForm(const Theme& theme, Workbench& workbench, Thing thing, QWidget* parent = nullptr);

  /// Shows what the bench says now. What somebody is typing into stays as it is.
  void refresh();

 private:
  template <class T>
  using Items = std::vector<T> Bench::*;
  template <class T>
  void add_name(Items<T> items, const QString& why);
  template <class T>
  void add_words(Items<T> items, const QString& label, const QString& why, const char* name, std::string T::*member);
  template <class T>
  void add_number(Items<T> items, const QString& label, const QString& why, Dimension dimension, const char* name,
                  double least, double most, std::function<double(const T&)> get, std::function<void(T&, double)> set);
  /// What a meter has read of a voltage, if one has.
  template <class T>
  void add_measured(Items<T> items, const char* name, KnownVoltage T::*of);
  template <class T>
  void add_choice(Items<T> items, const QString& label, const QString& why, const QStringList& choices,
                  const char* name, std::function<int(const T&)> get, std::function<void(T&, int)> set);
  /// One of the things of another kind by its name, or none of them. Those that do not fit are left out, but the one
  /// that it is.
  template <class T, class Of>
  void add_link(
      Items<T> items, const QString& label, const QString& why, const char* name, Items<Of> others, const QString& none,
      std::function<std::string&(T&)> id, std::function<bool(const Of&)> fits = [](const Of&) { return true; });
  void add_rail_rows();
  void add_converter_rows();
  void add_bus_rows();
  void add_device_rows();
  void add_channel_rows();

  const Theme& theme_;
  Workbench& workbench_;
  Thing thing_;
  Form* form_;
  std::vector<std::function<void()>> rows_;  // each shows its value anew
};

}  // namespace fair_gauge::app
