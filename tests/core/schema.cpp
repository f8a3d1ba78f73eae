#include "core/schema.h"

#include <fmt/format.h>

#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validation_results.hpp>
#include <valijson/validator.hpp>

namespace fair_gauge {

std::vector<Problem> schema_problems(const JsonDocument& document, const Json& schema) {
  using Adapter = valijson::adapters::NlohmannJsonAdapter;
  const nlohmann::json plain_schema = schema;
  const nlohmann::json plain_document = document.value;
  valijson::Schema compiled;
  valijson::SchemaParser(valijson::SchemaParser::kDraft7).populateSchema(Adapter(plain_schema), compiled);
  valijson::ValidationResults results;
  valijson::Validator validator;
  validator.validate(compiled, Adapter(plain_document), &results);
  std::vector<Problem> problems;
  for (valijson::ValidationResults::Error error; results.popError(error);) {
    std::string pointer;
    for (const std::string& step : error.context)  // "<root>", "[parts]", "[0]", …
      if (step.size() > 2 && step.front() == '[') pointer += "/" + step.substr(1, step.size() - 2);
    Problem problem{fmt::format("{}: {}", pointer.empty() ? "/" : pointer, error.description), "what the schema says",
                    document.place_of(pointer)};
    if (!error.description.starts_with("Failed to validate against child schema") &&
        !error.description.starts_with("Failed to validate value of property") &&
        !error.description.starts_with("Failed to validate item"))
      problems.push_back(std::move(problem));
    else if (results.numErrors() == 0 && problems.empty())
      problems.push_back(std::move(problem));
  }
  return problems;
}

}  // namespace fair_gauge
