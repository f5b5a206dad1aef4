// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/findings_book.h"

#include <algorithm>
#include <iterator>

namespace scorrere::workbench {

void FindingsBook::tell(const QString& station, std::vector<Finding> findings) {
    told_[station] = std::move(findings);
    Q_EMIT changed();
}

std::vector<Finding> FindingsBook::all() const {
    std::vector<Finding> all;
    for (const auto& [station, findings] : told_) {
        std::ranges::copy(findings, std::back_inserter(all));
    }
    return all;
}

int FindingsBook::warnings() const {
    std::ptrdiff_t count = 0;
    for (const auto& [station, findings] : told_) {
        count += std::ranges::count_if(findings, &Finding::isWarning);
    }
    return static_cast<int>(count);
}

} // namespace scorrere::workbench

#include "moc_findings_book.cpp"
