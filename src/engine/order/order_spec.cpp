// SPDX-License-Identifier: Apache-2.0
#include "engine/order/order_spec.h"

namespace scorrere {

bool OrderSpec::isSameOrder(const OrderSpec& other) const {
    OrderSpec alike = other;
    alike.toStart = toStart;
    return *this == alike;
}

bool OrderSpec::goesToStartAfter(const OrderSpec& other) const {
    return (toStart.filter && where != other.where) ||
           (toStart.search && (containing != other.containing || within != other.within)) ||
           (toStart.sort && by != other.by) || (toStart.shuffle && shuffled != other.shuffled);
}

} // namespace scorrere
