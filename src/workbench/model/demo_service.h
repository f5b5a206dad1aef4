// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "service/survey_server.h"

#include <memory>
#include <mutex>
#include <string>

namespace scorrere::workbench {

/// The demo service inside this program, on a free port, started when it is first asked for. Addresses that
/// begin with demo:/ mean it.
///
/// Threads     Any.
class DemoService {
public:
    explicit DemoService(service::ServerSettings settings = {}) : settings_(std::move(settings)) {
        settings_.token = kToken;
    }
    /// The token that its calls must bring, under the name HOLLOWMERE.
    static constexpr const char* kTokenName = "HOLLOWMERE";
    static constexpr const char* kToken = "light-trap-7";

    Result<std::string> address();
    /// Null before it was asked for.
    std::shared_ptr<service::SurveyServer> server() const;

private:
    service::ServerSettings settings_;
    std::mutex starting_;      ///< held while the server starts: workers wait for it, the interface never
    mutable std::mutex mutex_; ///< held while the pointer is copied
    std::shared_ptr<service::SurveyServer> server_;
};

} // namespace scorrere::workbench
