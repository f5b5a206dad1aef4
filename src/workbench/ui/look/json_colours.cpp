// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/json_colours.h"

#include <QRegularExpression>

namespace scorrere::workbench {

JsonColours::JsonColours(Look& look, QTextDocument* document) : QSyntaxHighlighter(document), look_(look) {
    connect(&look_, &Look::changed, this, &JsonColours::rehighlight);
}

void JsonColours::highlightBlock(const QString& text) {
    // JSON has no text over several lines, so a line tells all.
    static const QRegularExpression token(
        QStringLiteral(R"re("(?:[^"\\]|\\.)*"?|-?\d[\d.eE+-]*|\b(?:true|false|null)\b|[{}\[\],:])re"));
    for (auto found = token.globalMatch(text); found.hasNext();) {
        const QRegularExpressionMatch match = found.next();
        const QChar first = match.capturedView().front();
        QTextCharFormat format;
        if (first == QLatin1Char('"')) {
            const bool isName =
                QStringView(text).mid(match.capturedEnd()).trimmed().startsWith(QLatin1Char(':'));
            format.setForeground(isName ? look_.ink : look_.loaded);
            format.setFontWeight(isName ? QFont::DemiBold : QFont::Normal);
        } else {
            const bool isMark = QStringLiteral("{}[],:").contains(first);
            format.setForeground(isMark ? look_.quiet : look_.accent);
        }
        setFormat(static_cast<int>(match.capturedStart()), static_cast<int>(match.capturedLength()), format);
    }
}

} // namespace scorrere::workbench

#include "moc_json_colours.cpp"
