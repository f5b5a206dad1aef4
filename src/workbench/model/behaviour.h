// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"

namespace scorrere::workbench {

/// What of the document Flow changes.
struct Behaviour {
    WindowSpec window;
    double viewLead = 0.5;
    PagingSpec paging;
    ArrangementSpec arrangement;
    std::optional<std::int64_t> asIf;
    OrderSpec order;
    AnimationSpec animation;
    HandsSpec hands;
    Actions actions;
    bool operator==(const Behaviour&) const = default;
};

inline Behaviour behaviourOf(const CollectionDocument& document) {
    return {document.window, document.viewLead,  document.paging, document.arrangement, document.asIf,
            document.order,  document.animation, document.hands,  document.actions};
}
inline CollectionDocument withBehaviour(CollectionDocument document, const Behaviour& behaviour) {
    document.window = behaviour.window;
    document.viewLead = behaviour.viewLead;
    document.paging = behaviour.paging;
    document.arrangement = behaviour.arrangement;
    document.asIf = behaviour.asIf;
    document.order = behaviour.order;
    document.animation = behaviour.animation;
    document.hands = behaviour.hands;
    document.actions = behaviour.actions;
    return document;
}

} // namespace scorrere::workbench
