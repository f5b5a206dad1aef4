// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/demo_service.h"

#include "service/wing_png.h"

namespace scorrere::workbench {

Result<std::string> DemoService::address() {
    const std::lock_guard starting(starting_);
    if (auto running = server()) {
        return running->address();
    }
    auto server = std::make_shared<service::SurveyServer>(settings_, service::wingPng);
    if (Outcome started = server->start(); !started) {
        return std::move(started.error());
    }
    const std::lock_guard lock(mutex_);
    server_ = server;
    return server->address();
}

std::shared_ptr<service::SurveyServer> DemoService::server() const {
    const std::lock_guard lock(mutex_);
    return server_;
}

} // namespace scorrere::workbench
