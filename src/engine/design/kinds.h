// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/design/item_design.h"

#include <string>
#include <vector>

namespace scorrere {

/// A kind of item: records for which its rule holds use its design.
struct KindSpec {
    std::string name;
    std::string when; ///< a rule
    PartSpec design;
    std::string pointer;
};

/// Says which design a record uses: the first kind whose rule holds, or none.
///
/// Complexity  O(kinds), and their rules.
/// Threads     One thread at a time, as Rule.
/// Errors      compile: as Rule, located at the kind.
class KindChooser {
public:
    static Result<KindChooser> compile(const std::vector<KindSpec>& kinds, const DesignScope& scope);
    /// -1: no rule holds.
    int kindOf(const FillContext& context) const;
    bool readsParameters() const;
    /// Fields that rules ask for and no record has.
    std::vector<std::string> absentFields() const;
    bool isEmpty() const { return rules_.empty(); }

private:
    std::vector<Rule> rules_;
};

} // namespace scorrere
