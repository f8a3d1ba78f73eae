// The buses of the bench: what pulls a line up and how it rises, who hangs on it and under which address, what a scan
// found.
#pragma once

#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>
#include <tuple>

#include "shell/workbench.h"
#include "widgets/form.h"
#include "widgets/text_box.h"
#include "wiring/address_plan.h"
#include "wiring/bus_check.h"

class QCustomPlot;

namespace fair_gauge::app {

class BusView : public QWidget {
  Q_OBJECT
 public:
  BusView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  void choose_bus(const std::string& id);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void build_form();
  void build_pull_ups();
  void build_addresses();
  void build_scan();
  QLayout* left_column();
  QLayout* right_column();
  void list_buses();
  void add_bus(BusKind kind);
  const Bus* bus() const;
  void edit_bus(const QString& label, const std::function<void(Bus&)>& change);
  void refresh();
  void show_settings(const Bus& bus);
  void show_pull_ups(const Bus& bus);
  void draw_line(const BusCheck& check);
  void show_findings(const BusCheck& check);
  void show_addresses(const Bus& bus);
  void show_scan(const Bus& bus);
  void use_plan();
  std::map<std::string, double> readings_of(const Bus& bus) const;
  void watch_warming();

  const Theme& theme_;
  Workbench& workbench_;
  std::string bus_id_;
  QComboBox* buses_;
  Form* form_;
  QComboBox *rail_, *speed_, *feed_, *shape_, *shift_;
  QuantityField *cable_, *per_metre_, *board_;
  Text* pull_ups_title_;
  QGridLayout* pull_ups_;
  std::optional<std::tuple<Bus, std::vector<Rail>, std::string>> pull_ups_of_;  // what stands in it
  QPushButton* add_pull_up_;
  Text* verdict_;
  QCustomPlot* plot_;
  QVBoxLayout* findings_;
  Text* addresses_title_;
  QGridLayout* addresses_;
  QPushButton* use_plan_;
  Text* scan_title_;
  TextBox* scan_;
  QVBoxLayout* matches_;
  QPushButton* warm_;
  Text* warm_words_;
  std::map<std::string, double> before_warming_;
  AddressPlan plan_;
};

}  // namespace fair_gauge::app
