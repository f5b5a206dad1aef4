// SPDX-License-Identifier: Apache-2.0
#include "engine/design/kinds.h"

#include <algorithm>

namespace scorrere {

Result<KindChooser> KindChooser::compile(const std::vector<KindSpec>& kinds, const DesignScope& scope) {
    KindChooser chooser;
    const NameScope names{scope.records, scope.locale, scope.parameters, nullptr, false};
    for (const KindSpec& kind : kinds) {
        auto rule = Rule::compile(kind.when, names);
        if (!rule) {
            Error error = std::move(rule.error());
            error.place.pointer = kind.pointer + "/when";
            return error;
        }
        chooser.rules_.push_back(std::move(*rule));
    }
    return chooser;
}

int KindChooser::kindOf(const FillContext& context) const {
    for (std::size_t i = 0; i < rules_.size(); ++i) {
        if (rules_[i].holds(context)) {
            return static_cast<int>(i);
        }
    }
    return -1;
}

std::vector<std::string> KindChooser::absentFields() const {
    std::vector<std::string> absent;
    for (const Rule& rule : rules_) {
        std::ranges::copy(rule.absent(), std::back_inserter(absent));
    }
    return absent;
}

bool KindChooser::readsParameters() const {
    return std::ranges::any_of(rules_, &Rule::readsParameters);
}

} // namespace scorrere
