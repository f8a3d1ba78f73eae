// By which lines a bench was last read. Kept on this machine and not in the bench: a port's name means nothing
// elsewhere.
#pragma once

#include <QString>
#include <vector>

namespace fair_gauge::app {

/// A line or a growing file that is listened to.
struct KnownLine {
  QString path;
  int baud = 115200;
  bool is_beside = false;  ///< the first one, or one that is listened to as well
  QString prefix;          ///< before the names of one beside

  bool operator==(const KnownLine&) const = default;
};

/// \param bench  path of its file \returns the first one first; empty if the bench was never read
std::vector<KnownLine> known_lines(const QString& bench);
void keep_lines(const QString& bench, const std::vector<KnownLine>& lines);

}  // namespace fair_gauge::app
