// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <optional>
#include <string>

namespace scorrere::service {

/// The PNG of a demo picture's name ("12-m43.png"), or nothing when there is none of that name. Threads: any.
std::optional<std::string> wingPng(const std::string& name);

} // namespace scorrere::service
