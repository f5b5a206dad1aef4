// SPDX-License-Identifier: Apache-2.0
#include "engine/arrange/own_arrangements.h"

#include <algorithm>

namespace scorrere {

namespace {

std::map<std::string, OwnArrangements::Make>& makers() {
    static std::map<std::string, OwnArrangements::Make> all;
    return all;
}

} // namespace

double OwnSpec::number(const std::string& of, double otherwise, double least, double most) const {
    const auto told = numbers.find(of);
    return std::clamp(told == numbers.end() ? otherwise : told->second, least, most);
}

void OwnArrangements::add(const std::string& name, Make make) {
    makers()[name] = std::move(make);
}

std::vector<std::string> OwnArrangements::names() {
    std::vector<std::string> all;
    for (const auto& [name, make] : makers()) {
        all.push_back(name);
    }
    return all;
}

std::unique_ptr<Arrangement> OwnArrangements::make(const OwnSpec& spec, const Spacing& spacing, Ends ends,
                                                   std::int64_t records,
                                                   const Arrangement::Estimates& estimates) {
    const auto maker = makers().find(spec.name);
    return maker == makers().end() ? nullptr : maker->second(spec, spacing, ends, records, estimates);
}

} // namespace scorrere
