// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/picture_cache.h"
#include "workbench/model/workspace.h"

#include <QObject>
#include <QString>
#include <set>

namespace scorrere::workbench {

/// Tells of pictures that cannot be shown, unless the design reckons with it: of the first, and how many
/// there are; until the design reckons with it. The collection runs on.
class PictureNotices : public QObject {
    Q_OBJECT
public:
    explicit PictureNotices(Workspace& workspace, QObject* parent = nullptr);
    /// Of what runs now.
    void watch(const render::PictureCache& pictures);

Q_SIGNALS:
    void noticed(const scorrere::workbench::Notice& notice);

private:
    void takeFailed(const QString& reason, render::PictureState state);
    void takeDesign();

    Workspace& workspace_;
    qint64 failed_ = 0;
    std::set<render::PictureState> states_; ///< that they are in
    QString first_;
};

} // namespace scorrere::workbench
