// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/notice_band.h"

#include <QHBoxLayout>
#include <QLocale>

namespace scorrere::workbench {

NoticeBand::NoticeBand(Look& look, QWidget* parent)
    : QFrame(parent), look_(look), text_(new QLabel(this)), bar_(new QProgressBar(this)),
      button_(new QPushButton(this)) {
    setObjectName(QStringLiteral("notice"));
    text_->setObjectName(QStringLiteral("noticeText"));
    text_->setWordWrap(true);
    text_->setTextFormat(Qt::PlainText);
    text_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    button_->setObjectName(QStringLiteral("noticeButton"));
    bar_->setTextVisible(false);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(18, 8, 14, 8);
    row->addWidget(text_, 1);
    row->addWidget(bar_);
    row->addWidget(button_, 0, Qt::AlignTop);
    connect(button_, &QPushButton::clicked, this, [this] {
        if (kind_ == Kind::Progress) {
            Q_EMIT cancelled();
        }
        clear();
    });
    connect(&look_, &Look::changed, this, &NoticeBand::restyle);
    become(Kind::Nothing);
}

void NoticeBand::become(Kind kind) {
    kind_ = kind;
    about_.clear();
    setVisible(kind != Kind::Nothing);
    bar_->setVisible(kind == Kind::Progress);
    button_->setText(kind == Kind::Progress ? tr("Cancel  Esc") : tr("Close  Esc"));
    restyle();
}

void NoticeBand::restyle() {
    const QColor side = kind_ == Kind::Error      ? look_.bad
                        : kind_ == Kind::Progress ? look_.loaded
                                                  : look_.accent;
    setStyleSheet(QStringLiteral("#notice { background: %1; border: none; border-left: 6px solid %2; "
                                 "border-bottom: 1px solid %3; }")
                      .arg(look_.card.name(), side.name(), look_.edge.name()));
    text_->setFont(look_.font(13));
    button_->setFont(look_.font(12));
    bar_->setFixedSize(static_cast<int>(look_.scaled(180)), static_cast<int>(look_.scaled(8)));
    bar_->setStyleSheet(QStringLiteral("QProgressBar { background: %1; border: none; border-radius: 3px; }"
                                       "QProgressBar::chunk { background: %2; border-radius: 3px; }")
                            .arg(look_.edge.name(), look_.loaded.name()));
}

void NoticeBand::showProgress(const QString& what, const ReadProgress& progress) {
    const QLocale english(QLocale::English);
    text_->setText(progress.records > 0 ? tr("%1: %2 records so far").arg(what, grouped(progress.records))
                   : progress.bytes > 0
                       ? tr("%1: %2 so far").arg(what, english.formattedDataSize(progress.bytes))
                       : what);
    bar_->setRange(0, progress.totalBytes > 0 ? 1000 : 0);
    if (progress.totalBytes > 0) {
        bar_->setValue(static_cast<int>(progress.bytes * 1000 / progress.totalBytes));
    }
    become(Kind::Progress);
}

void NoticeBand::tell(const Notice& notice) {
    switch (notice.kind) {
    case Notice::Kind::Progress:
        return showProgress(notice.text, notice.progress);
    case Notice::Kind::Over:
        return kind_ == Kind::Progress ? clear() : void();
    case Notice::Kind::Failed:
        text_->setText(notice.text + QStringLiteral(" ") + QString::fromStdString(notice.error->text()));
        return become(Kind::Error);
    case Notice::Kind::Told:
        if (!notice.isUpdate || about_ == notice.about) { // else it was read and closed
            text_->setText(notice.text);
            become(Kind::Notice);
            about_ = notice.about;
        }
    }
}

void NoticeBand::clear() {
    text_->clear();
    become(Kind::Nothing);
}

} // namespace scorrere::workbench
