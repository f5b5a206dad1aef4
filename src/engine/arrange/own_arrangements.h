// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/arrangement.h"

#include <functional>
#include <map>
#include <memory>
#include <string>
#include <vector>

namespace scorrere {

/// An arrangement of one's own, by the name it was added under, and what it is told.
struct OwnSpec {
    std::string name;
    std::map<std::string, double> numbers = {};
    /// As told, else `otherwise`; within these bounds.
    double number(const std::string& of, double otherwise, double least, double most) const;
    bool operator==(const OwnSpec&) const = default;
};

/// The arrangements that a program brings beside those there are. A collection names one.
///
/// Threads     add(): before any collection runs. All else: any.
class OwnArrangements {
public:
    /// Makes one over so many records. What it makes must hold what Arrangement says: the conformance suite tells.
    using Make = std::function<std::unique_ptr<Arrangement>(
        const OwnSpec&, const Spacing&, Ends, std::int64_t records, const Arrangement::Estimates&)>;
    static void add(const std::string& name, Make make);
    static std::vector<std::string> names();
    /// Null: none has that name.
    static std::unique_ptr<Arrangement> make(const OwnSpec& spec, const Spacing& spacing, Ends ends,
                                             std::int64_t records, const Arrangement::Estimates& estimates);
};

} // namespace scorrere
