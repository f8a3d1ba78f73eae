#include "parts/controller.h"

#include <algorithm>
#include <filesystem>

#include "files/file.h"
#include "language/translation.h"
#include "parts/catalogue.h"
#include "parts/part_json.h"

namespace fair_gauge {

std::vector<Controller> read_controllers(std::string text, const std::string& file, std::vector<Problem>& problems,
                                         Texts texts) {
  const auto document = parse_json(std::move(text), file);
  if (!document) {
    problems.push_back(document.problem());
    return {};
  }
  if (!document->value.is_object() || !document->value.contains("controllers") ||
      !document->value["controllers"].is_array()) {
    problems.push_back({translated("there are no controllers in this file"),
                        translated("an object with a list \"controllers\""), document->place_of("")});
    return {};
  }
  std::vector<Controller> all;
  const Json& list = document->value["controllers"];
  for (std::size_t i = 0; i < list.size(); ++i) {
    Controller controller;
    std::vector<Problem> faults;
    const std::string pointer = "/controllers/" + std::to_string(i);
    read_controller(*document, list[i], pointer, controller, faults, texts);
    if (faults.empty() && controller.layout.registers.empty())
      faults.push_back({translated("\"{}\" has no registers", controller.id), translated("one register or more"),
                        document->place_of(pointer)});
    if (faults.empty()) all.push_back(std::move(controller));
    problems.insert(problems.end(), faults.begin(), faults.end());
  }
  return all;
}

std::vector<Controller> load_controllers(std::vector<Problem>* problems) {
  std::vector<Controller> all;
  std::vector<Problem> faults;
  for (const std::string& folder : data_folders("controllers")) {
    const Texts texts = folder.starts_with(data_folder()) ? Texts::in_language : Texts::as_written;
    std::vector<std::filesystem::path> files;
    std::error_code none;
    for (const auto& entry : std::filesystem::directory_iterator(folder, none))
      if (entry.path().extension() == ".json") files.push_back(entry.path());
    std::ranges::sort(files);
    for (const auto& path : files) {
      auto text = read_file(path.string(), 4u << 20);
      if (!text) faults.push_back(text.problem());
      for (Controller& each :
           text ? read_controllers(std::move(*text), path.string(), faults, texts) : std::vector<Controller>()) {
        std::erase_if(all, [&](const Controller& other) { return other.id == each.id; });
        all.push_back(std::move(each));
      }
    }
  }
  if (problems) *problems = std::move(faults);
  return all;
}

Result<KeptFile> save_user_controller(const Controller& controller) {
  const std::string folder = data_folders("controllers").back(), path = folder + "/" + controller.id + ".json";
  std::error_code error;
  std::filesystem::create_directories(folder, error);
  const Json file = {{"controllers", Json::array({controller_json(controller)})}};
  return write_keeping_former(path, file.dump(2, ' ', false, Json::error_handler_t::replace) + "\n");
}

}  // namespace fair_gauge
