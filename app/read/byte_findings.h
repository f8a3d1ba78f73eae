// What else a part's bytes could mean, what an old temperature would make of them, and which settings suit their light.
#pragma once

#include <QGridLayout>
#include <QWidget>

#include "shell/workbench.h"
#include "widgets/text.h"

namespace fair_gauge::app {

class ByteFindings : public QWidget {
  Q_OBJECT
 public:
  ByteFindings(const Theme& theme, const Workbench& workbench, QWidget* parent = nullptr);

  void show_findings(const Part& part, const Decoded& decoded, const std::map<std::string, double>& settings,
                     const ByteBlocks& blocks);

 private:
  void show_stale(const Decoder& decoder, const ByteBlocks& blocks);
  void show_others(const Part& part, const Decoded& decoded, const std::map<std::string, double>& settings,
                   const ByteBlocks& blocks);
  void show_light_advice(const Part& part, const Decoded& decoded, const std::map<std::string, double>& settings);

  const Theme& theme_;
  const Workbench& workbench_;
  Text* stale_;
  QGridLayout* others_;
  QGridLayout* advice_;
};

}  // namespace fair_gauge::app
