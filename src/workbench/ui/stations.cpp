// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/stations.h"

#include "workbench/ui/flow/flow_station.h"
#include "workbench/ui/item/item_station.h"
#include "workbench/ui/source/source_station.h"

namespace scorrere::workbench {

std::vector<StationMaker> allStations() {
    return {[](const StationNeeds& needs) -> Station* { return new SourceStation(needs); },
            [](const StationNeeds& needs) -> Station* { return new ItemStation(needs); },
            [](const StationNeeds& needs) -> Station* { return new FlowStation(needs); }};
}

} // namespace scorrere::workbench
