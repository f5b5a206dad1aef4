// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/picture_notices.h"

#include "workbench/ui/look/look.h"

#include <algorithm>

namespace scorrere::workbench {

namespace {

const QString kAbout = QStringLiteral("pictures");

/// Whether a design has words for pictures in that state.
bool saysWhenPictures(const PartSpec& part, render::PictureState state) {
    const PictureFallback& fallback = part.fallback;
    const bool missing = state == render::PictureState::Missing;
    return !(missing ? fallback.missing : fallback.broken).empty() ||
           std::ranges::any_of(part.children,
                               [state](const PartSpec& child) { return saysWhenPictures(child, state); });
}

bool hasPictures(const PartSpec& part) {
    return part.type == PartType::Picture || std::ranges::any_of(part.children, hasPictures);
}

} // namespace

PictureNotices::PictureNotices(Workspace& workspace, QObject* parent)
    : QObject(parent), workspace_(workspace) {
    connect(&workspace_, &Workspace::replaced, this, [this](bool again) {
        failed_ = again ? failed_ : 0;
        takeDesign();
    });
    connect(&workspace_, &Workspace::changed, this, [this](Sections what) {
        if (what & Section::Design) {
            takeDesign();
        }
    });
}

/// Another one may have words for them, or no pictures at all.
void PictureNotices::takeDesign() {
    const PartSpec& item = workspace_.document().item;
    const bool isReckonedWith = std::ranges::all_of(
        states_, [&item](render::PictureState state) { return saysWhenPictures(item, state); });
    if (failed_ == 0 || isReckonedWith || !hasPictures(item)) {
        failed_ = 0;
        states_.clear();
        Q_EMIT noticed(Notice::over(kAbout));
    }
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
    states_.insert(state);
    const bool isFirst = failed_++ == 0;
    first_ = isFirst ? reason : first_;
    const QString ended = first_.endsWith(QLatin1Char('.')) ? first_ : first_ + QLatin1Char('.');
    Notice notice = Notice::told(
        tr("A picture cannot be shown: %1 Check the file, or the address in the item design.%2")
            .arg(ended, failed_ > 1 ? tr(" (%1 pictures so far)").arg(grouped(failed_)) : QString()));
    notice.about = kAbout;
    notice.isUpdate = !isFirst;
    Q_EMIT noticed(notice);
}

} // namespace scorrere::workbench

#include "moc_picture_notices.cpp"
