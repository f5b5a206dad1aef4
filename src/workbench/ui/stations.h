// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/ui/look/station.h"

#include <functional>
#include <vector>

namespace scorrere::workbench {

using StationMaker = std::function<Station*(const StationNeeds&)>;

/// The stations in the order of the work; the window owns what these make.
std::vector<StationMaker> allStations();

} // namespace scorrere::workbench
