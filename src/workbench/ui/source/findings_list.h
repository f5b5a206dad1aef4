// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/source_reading.h"
#include "workbench/ui/look/look.h"

#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>
#include <vector>

namespace scorrere::workbench {

/// What is wrong with the records, a line each, with what to do and, where it can be mended, a button for it.
class FindingsList : public QScrollArea {
    Q_OBJECT
public:
    explicit FindingsList(Look& look, QWidget* parent = nullptr);
    void setFindings(const std::vector<SourceFinding>& findings);
    const std::vector<SourceFinding>& findings() const { return findings_; }
    int warnings() const;

Q_SIGNALS:
    void mendWanted(scorrere::workbench::SourceFinding::Mend mend);
    void seeWanted(qint64 record, const QString& field);

private:
    void fill();

    Look& look_;
    std::vector<SourceFinding> findings_;
};

} // namespace scorrere::workbench
