// All parts the program knows: those that ship with it and the user's own.
#pragma once

#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "files/file.h"
#include "language/translation.h"
#include "parts/part.h"
#include "quantity/result.h"

namespace fair_gauge {

/// A part that stays while it is held, whatever becomes of its catalogue.
using PartPointer = std::shared_ptr<const Part>;

class Catalogue {
 public:
  /// Adds every part of one file. A part with the id of an earlier one replaces it.
  /// \param file  for messages
  /// \returns faults found, each with its place; faulty parts are left out
  std::vector<Problem> add(std::string text, const std::string& file, Texts texts = Texts::as_written);

  /// Adds every *.json file of a folder, in the order of their names.
  /// \param only  ids or markings: files in which none of them stands are passed by; empty → every file
  std::vector<Problem> add_folder(const std::string& folder, Texts texts = Texts::as_written,
                                  const std::vector<std::string>& only = {});

  /// Adds a part, in the place of the one with its id where there is one.
  void put(Part part);

  const std::vector<Part>& parts() const { return *parts_; }

  /// The part with this id or, ignoring case, this marking; null if there is none.
  const Part* find(std::string_view id_or_marking) const;

  /// The same, owned together with the catalogue: for those who keep it longer than a call. Null if there is none.
  PartPointer share(std::string_view id_or_marking) const;

  /// The parts whose name, id and markings contain every word of `text`, ignoring case.
  std::vector<const Part*> search(std::string_view text) const;

  /// What a person may mean by `text`, likeliest first: the found ones, whose marking begins so, or whose nominal
  /// resistance it is ("10k"), before the others; where none is found by its own words, by what people call such parts
  /// ("light sensor", "PT-100", "barometer").
  std::vector<const Part*> suggest(std::string_view text) const;

 private:
  // Copied before it is changed while somebody holds a part of it.
  std::shared_ptr<std::vector<Part>> parts_ = std::make_shared<std::vector<Part>>();
};

/// The parts that ship with the program, then those of the user's own folder, whose faults are returned in `problems`.
/// \param only  ids or markings that are needed: where all of them are found as they stand, files without any are not
/// read
Catalogue load_catalogue(std::vector<Problem>* problems = nullptr, const std::vector<std::string>& only = {});

/// The folder of the data that ship with the program: $FAIR_GAUGE_DATA, beside the installed program, or the source
/// tree.
std::string data_folder();

/// The folders that hold one kind of data ("parts", "boards"): those that ship, then the user's own.
std::vector<std::string> data_folders(const std::string& kind);

/// Writes a part of the user's own as ID.json in their folder; another of that name is kept beside it.
Result<KeptFile> save_user_part(const Part& part);

/// Takes a file of parts that somebody brings into the user's own; another of that name is kept beside it.
/// \returns what its parts are called, or the first fault: then nothing is taken
Result<std::vector<std::string>> take_user_parts(const std::string& path);

/// The folder of the user's own parts: $XDG_DATA_HOME/fair-gauge/parts.
std::string user_parts_folder();

}  // namespace fair_gauge
