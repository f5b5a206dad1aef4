// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/design/values.h"

#include <string>
#include <vector>

namespace scorrere::workbench {

/// One way to write a field in a text, and what comes of it.
struct FormatOffer {
    std::string name;     ///< "day and time"
    std::string argument; ///< as it stands in a text: {seen, date, medium}
    std::string outcome;  ///< of the record that was asked about
};

/// A place in a text that names a field: [from, until) is the whole argument with its braces.
struct FieldArgument {
    std::string field;
    std::size_t from = 0;
    std::size_t until = 0;
};

/// The arguments of a text that name a field, outermost ones, in order.
std::vector<FieldArgument> fieldArguments(const std::string& text);
/// How a field can be written, with its outcome on a record; nothing for texts and lists. Those that come to
/// nothing there are left out.
std::vector<FormatOffer> formatOffers(const NameScope& scope, const std::string& field,
                                      const FillContext& record);

} // namespace scorrere::workbench
