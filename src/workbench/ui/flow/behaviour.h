// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"

namespace scorrere::workbench {

/// What of the document Flow changes.
struct Behaviour {
    WindowSpec window;
    double viewLead = 0.5;
    PagingSpec paging;
    bool operator==(const Behaviour&) const = default;
};

} // namespace scorrere::workbench
