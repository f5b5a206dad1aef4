// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/picture_notices.h"

#include "workbench/ui/look/look.h"

#include <algorithm>

namespace scorrere::workbench {

namespace {

/// Whether a design has words for pictures in that state.
bool saysWhenPictures(const PartSpec& part, render::PictureState state) {
    const PictureFallback& fallback = part.fallback;
    const bool missing = state == render::PictureState::Missing;
    return !(missing ? fallback.missing : fallback.broken).empty() ||
           std::ranges::any_of(part.children,
                               [state](const PartSpec& child) { return saysWhenPictures(child, state); });
}

} // namespace

PictureNotices::PictureNotices(Workspace& workspace, QObject* parent)
    : QObject(parent), workspace_(workspace) {
    connect(&workspace_, &Workspace::replaced, this, [this](bool again) { failed_ = again ? failed_ : 0; });
}

void PictureNotices::watch(const render::PictureCache& pictures) {
    connect(&pictures, &render::PictureCache::failed, this, &PictureNotices::takeFailed);
}

void PictureNotices::takeFailed(const QString& reason, render::PictureState state) {
    if (!workspace_.isOpen() || saysWhenPictures(workspace_.document().item, state)) {
        return; // the design reckons with it
    }
    if (!workspace_.opened().missing.empty() && reason.contains(QStringLiteral("nobody allowed it"))) {
        workspace_.askReach();
    }
    const bool isFirst = failed_++ == 0;
    first_ = isFirst ? reason : first_;
    const QString ended = first_.endsWith(QLatin1Char('.')) ? first_ : first_ + QLatin1Char('.');
    Notice notice = Notice::told(
        tr("A picture cannot be shown: %1 Check the file, or the address in the item design.%2")
            .arg(ended, failed_ > 1 ? tr(" (%1 pictures so far)").arg(grouped(failed_)) : QString()));
    notice.about = QStringLiteral("pictures");
    notice.isUpdate = !isFirst;
    Q_EMIT noticed(notice);
}

} // namespace scorrere::workbench

#include "moc_picture_notices.cpp"
