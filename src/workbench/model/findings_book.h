// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QObject>
#include <QString>
#include <map>
#include <vector>

namespace scorrere::workbench {

/// Where a finding, a search or a link leads.
struct Target {
    QString station;     ///< its id; empty: nowhere
    QString part;        ///< JSON Pointer of a part of the design
    QString field;       ///< name of a field of the records
    qint64 record = -1;  ///< from 0
    qint64 frame = -1;   ///< of the run
    qint64 request = -1; ///< of the log of requests
};

/// One line of what is wrong, or worth knowing, and where it can be seen.
struct Finding {
    QString text;
    bool isWarning = true;
    Target target;
};

/// What all stations found, by the station that told it.
///
/// Threads     The interface thread.
class FindingsBook : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    /// Replaces what that station told before.
    void tell(const QString& station, std::vector<Finding> findings);
    /// In the order of the stations' ids.
    std::vector<Finding> all() const;
    int warnings() const;

Q_SIGNALS:
    void changed();

private:
    std::map<QString, std::vector<Finding>> told_;
};

} // namespace scorrere::workbench
