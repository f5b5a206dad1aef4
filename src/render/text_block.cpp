// SPDX-License-Identifier: Apache-2.0
#include "render/text_block.h"

#include "render/job.h"

#include <QFontMetricsF>
#include <QRawFont>
#include <algorithm>
#include <atomic>
#include <cmath>
#include <map>
#include <memory>
#include <mutex>
#include <utility>

namespace scorrere::render {

namespace {
std::atomic<std::int64_t> shapedCount{0};
std::atomic<std::uint64_t> fontSetsEver{0};

struct LineMeasures {
    double ascent = 0;
    double descent = 0;
};

/// What is known of each font, found once.
template <typename T>
T knownOf(const QFont& font, T (*find)(const QFont&)) {
    static std::mutex guard;
    static std::map<QString, T> known;
    const QString key = font.key();
    {
        const std::lock_guard lock(guard);
        if (const auto found = known.find(key); found != known.end()) {
            return found->second;
        }
    }
    T what = find(font);
    const std::lock_guard lock(guard);
    return known.emplace(key, std::move(what)).first->second;
}

LineMeasures lineOf(const QFont& font) {
    return knownOf<LineMeasures>(font, [](const QFont& of) {
        const QFontMetricsF metrics(of);
        return LineMeasures{metrics.ascent(), metrics.descent()};
    });
}

std::shared_ptr<const AdvanceTable> lookUpAdvances(const QFont& font) {
    auto table = std::make_shared<AdvanceTable>();
    const QRawFont raw = QRawFont::fromFont(font);
    const auto advance = [&raw](char32_t c) {
        const auto glyphs = raw.glyphIndexesForString(QString::fromUcs4(&c, 1));
        if (glyphs.isEmpty() || glyphs.first() == 0) {
            return std::int32_t{-1};
        }
        const auto advances = raw.advancesForGlyphIndexes(glyphs);
        return static_cast<std::int32_t>(std::lround(advances.first().x() * Length::kPerPx));
    };
    for (char32_t c = 0; c < AdvanceTable::kFirstBlock; ++c) {
        const bool combines = c >= 0x300 && c < 0x370;
        table->first[c] = c < 0x20 || combines ? -1 : advance(c);
    }
    for (std::size_t i = 0; i < AdvanceTable::kPunctuationCount; ++i) {
        table->punctuation[i] = advance(AdvanceTable::kPunctuation + static_cast<char32_t>(i));
    }
    const QFontMetricsF metrics(font);
    const auto mean = [&metrics](const QString& sample) {
        return static_cast<std::int32_t>(std::lround(metrics.horizontalAdvance(sample) * Length::kPerPx /
                                                     static_cast<double>(sample.size())));
    };
    table->wide = mean(QStringLiteral("雨夜灯かなカナ"));
    table->arabic = mean(QStringLiteral("الجناحالأماميواضحالعلامةبعدالمطربقليل"));
    return table;
}

std::shared_ptr<const AdvanceTable> advancesOf(const QFont& font) {
    return knownOf<std::shared_ptr<const AdvanceTable>>(font, lookUpAdvances);
}
} // namespace

QString textFamily() {
    return QStringLiteral("Noto Sans");
}

FontSet::FontSet(const ItemDesign& design, double scale) : revision(++fontSetsEver), textScale(scale) {
    for (const TextStyle& style : design.styles()) {
        Face face;
        face.font = QFont(textFamily());
        face.font.setPixelSize(std::max(1, static_cast<int>(std::lround(style.size.toPx() * scale))));
        face.font.setWeight(static_cast<QFont::Weight>(style.weight));
        face.font.setItalic(style.italic);
        face.font.setHintingPreference(QFont::PreferNoHinting);
        face.lineHeight = std::ceil(face.font.pixelSize() * 1.4);
        faces.push_back(face);
    }
    // Loading a font takes milliseconds, with a lock of the toolkit's held that the interface needs for every
    // word: so it is never left to a worker that others push aside.
    runPromptly([this] {
        for (Face& face : faces) {
            const LineMeasures line = lineOf(face.font);
            face.ascent = (face.lineHeight - line.ascent - line.descent) / 2 + line.ascent;
        }
    });
}

std::vector<AdvanceTable> FontSet::advanceTables() const {
    std::vector<AdvanceTable> tables;
    runPromptly([&] {
        for (const Face& face : faces) {
            AdvanceTable table = *advancesOf(face.font);
            table.lineHeight = Length::fromPx(face.lineHeight);
            table.ascent = Length::fromPx(face.ascent);
            table.textScale = textScale;
            tables.push_back(table);
        }
    });
    return tables;
}

std::int64_t TextBlock::shapedEver() {
    return shapedCount;
}

TextSize TextBlock::set(std::string_view text, const FontSet::Face& face, Length maxWidth, int maxLines) {
    const double width = std::max(maxWidth.toPx(), 1.0);
    const bool same = text == text_ && width_ >= 0 && font_ == face.font;
    if (same && width == width_ && maxLines == maxLines_) {
        return size_;
    }
    if (!same || cut_) {
        text_.assign(text);
        font_ = face.font;
        QString shown = QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
        shown.replace(QLatin1Char('\n'), QChar::LineSeparator);
        layout_.setFont(font_);
        layout_.setText(shown);
        layout_.setCacheEnabled(true);
        QTextOption option;
        option.setWrapMode(QTextOption::WrapAtWordBoundaryOrAnywhere);
        layout_.setTextOption(option);
        cut_ = false;
        ++shapedCount;
    }
    width_ = width;
    maxLines_ = maxLines;
    breakLines(width, maxLines, face);
    return size_;
}

void TextBlock::breakLines(double width, int maxLines, const FontSet::Face& face) {
    const auto lay = [&](int limit) {
        layout_.beginLayout();
        double widest = 0;
        int lines = 0;
        int end = 0;
        while (limit == 0 || lines < limit) {
            QTextLine line = layout_.createLine();
            if (!line.isValid()) {
                break;
            }
            line.setLineWidth(width);
            line.setPosition(QPointF(0, lines * face.lineHeight + face.ascent - line.ascent()));
            widest = std::max(widest, line.naturalTextWidth());
            end = line.textStart() + line.textLength();
            ++lines;
        }
        layout_.endLayout();
        size_ = {Length::fromRaw(static_cast<std::int64_t>(std::ceil(widest * Length::kPerPx))),
                 Length::fromPx(std::max(lines, 1) * face.lineHeight)};
        return end;
    };
    const int end = lay(maxLines);
    if (end < layout_.text().size() && layout_.lineCount() > 0) {
        // The last line that fits gives way to an ellipsis.
        const QTextLine last = layout_.lineAt(layout_.lineCount() - 1);
        const double dots = QFontMetricsF(face.font).horizontalAdvance(QChar(0x2026));
        QString rest = layout_.text().mid(last.textStart()).left(400);
        rest = QFontMetricsF(face.font).elidedText(rest, Qt::ElideRight, std::max(width, dots));
        layout_.setText(layout_.text().left(last.textStart()) + rest);
        cut_ = true;
        lay(maxLines);
    }
}

void TextBlock::paint(QPainter& painter, QPointF at, double width, Qt::AlignmentFlag side) const {
    if (side == Qt::AlignLeft) {
        layout_.draw(&painter, at);
        return;
    }
    for (int i = 0; i < layout_.lineCount(); ++i) {
        const QTextLine line = layout_.lineAt(i);
        const double slack = width - line.naturalTextWidth();
        line.draw(&painter, QPointF(at.x() + (side == Qt::AlignHCenter ? slack / 2 : slack), at.y()));
    }
}

} // namespace scorrere::render
