// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/record/field_profile.h"
#include "engine/record/record_builder.h"

#include <string>
#include <vector>

namespace scorrere {

/// A JSON Schema (draft 2020-12) that the records these profiles are of satisfy: types, which members every
/// record has, and what the members are called for people. Fields read from inside a record (by a path), or
/// left out, are not described.
std::string recordSchema(const std::string& title, const std::vector<FieldProfile>& profiles,
                         const std::vector<FieldChoice>& choices);

/// A C++20 struct for one record: std::optional where a field may be missing, names made identifiers.
/// Compiles on its own.
std::string recordType(const std::string& name, const std::vector<FieldProfile>& profiles,
                       const std::vector<FieldChoice>& choices);

} // namespace scorrere
