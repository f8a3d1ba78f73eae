#include "stream/recorded_past.h"

#include <cmath>
#include <fstream>
#include <optional>

#include "files/delimited.h"
#include "stream/log_cell.h"
#include "stream/log_time.h"

namespace fair_gauge {

std::map<std::string, CameRaws> recorded_past(const Bench& bench, const Catalogue& catalogue, const std::string& path,
                                              double since) {
  constexpr std::streamoff most = 1 << 19;  // some thousand rows, at once
  std::map<std::string, CameRaws> past;
  std::ifstream file(path, std::ios::binary);
  std::string header;
  if (!std::getline(file, header)) return past;
  const auto names = cells_of(trimmed(header), ',');
  if (names.empty() || names.front() != "time") return past;
  struct Kept {
    Chain chain;
    CellReader cells;
    CameRaws raws = {};
    explicit Kept(Chain built) : chain(std::move(built)), cells(chain) {}
  };
  std::vector<std::unique_ptr<Kept>> columns;  // as the file's, from its second on; null where no channel is
  for (std::size_t i = 1; i < names.size(); ++i) {
    auto chain = build_chain(bench, catalogue, names[i]);
    columns.push_back(chain ? std::make_unique<Kept>(std::move(*chain)) : nullptr);
  }
  const std::streamoff begin = file.tellg();
  file.seekg(0, std::ios::end);
  const std::streamoff size = file.tellg();
  std::string line;
  file.seekg(std::max(begin, size - most));
  if (size - most > begin) std::getline(file, line);  // cut
  while (std::getline(file, line) && !file.eof()) {   // a last row without its end is cut, too
    const auto cells = cells_of(trimmed(line), ',');
    const double seconds = cells.empty() ? std::nan("") : moment_of(cells.front());
    if (!(seconds >= since)) continue;
    for (std::size_t i = 0; i < columns.size() && i + 1 < cells.size(); ++i)
      if (columns[i] && !cells[i + 1].empty())
        if (const LogCell cell = columns[i]->cells.read(cells[i + 1]); cell.raw && cell.fault.empty())
          columns[i]->raws.emplace_back(seconds, *cell.raw);
  }
  for (auto& column : columns)
    if (column && !column->raws.empty()) past[column->chain.channel.id] = std::move(column->raws);
  return past;
}

}  // namespace fair_gauge
