// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/secrets.h"

namespace scorrere::testing {

/// Secrets in memory; nothing of the desktop is asked.
class FakeSecrets final : public workbench::Secrets {
public:
    void find(const std::string& name, Found found) override {
        asked.push_back(name);
        const auto known = held.find(name);
        found(known == held.end() ? std::nullopt : std::optional(known->second));
    }
    void keep(const std::string& name, const std::string& secret, bool lasting,
              std::function<void(const QString& problem)> kept) override {
        held[name] = secret;
        keptForGood = lasting;
        kept({});
    }
    std::map<std::string, std::string> held;
    std::vector<std::string> asked;
    bool keptForGood = false;
};

} // namespace scorrere::testing
