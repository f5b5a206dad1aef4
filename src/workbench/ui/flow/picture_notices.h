// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/picture_cache.h"
#include "workbench/model/workspace.h"

#include <QObject>
#include <QString>

namespace scorrere::workbench {

/// Tells of pictures that cannot be shown, unless the design reckons with it: of the first, and how many
/// there are. The collection runs on.
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

    Workspace& workspace_;
    qint64 failed_ = 0;
    QString first_;
};

} // namespace scorrere::workbench
