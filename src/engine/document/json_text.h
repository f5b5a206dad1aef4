// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <nlohmann/json_fwd.hpp>
#include <string>

namespace scorrere {

/// JSON as people write it: indented by two, what fits on a line on one line. Ends without a line break.
std::string jsonText(const nlohmann::ordered_json& json);

} // namespace scorrere
