// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/text_reader.h"

#include <QFile>
#include <QFontDatabase>
#include <QKeyEvent>
#include <QTextCursor>
#include <algorithm>

namespace scorrere::workbench {

TextReader::TextReader(const Look& look, const QString& title, const QString& file, QWidget* parent)
    : QPlainTextEdit(parent) {
    setWindowFlag(Qt::Window);
    setAttribute(Qt::WA_DeleteOnClose);
    setObjectName(QStringLiteral("textReader"));
    setWindowTitle(QStringLiteral("%1 \u2014 %2").arg(title, file));
    setAccessibleName(title);
    setReadOnly(true);
    setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    QFont font = QFontDatabase::systemFont(QFontDatabase::FixedFont);
    font.setPixelSize(static_cast<int>(look.scaled(13)));
    setFont(font);
    setPlaceholderText(tr("Nothing is there yet."));
    resize(static_cast<int>(look.scaled(860)), static_cast<int>(look.scaled(520)));
    reading_.start(
        [file](const std::stop_token&, const render::Job::Post&) {
            QFile from(file);
            if (!from.open(QIODevice::ReadOnly)) {
                return QString();
            }
            const qint64 skipped = std::max<qint64>(0, from.size() - kMostBytes);
            from.seek(skipped);
            if (skipped > 0) {
                (void)from.readLine(); // of which only the end is here
            }
            return QString::fromUtf8(from.readAll());
        },
        [this](const QString& text) {
            setPlainText(text);
            moveCursor(QTextCursor::End);
        });
}

void TextReader::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) {
        close();
    } else {
        QPlainTextEdit::keyPressEvent(event);
    }
}

} // namespace scorrere::workbench

#include "moc_text_reader.cpp"
