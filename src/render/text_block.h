// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/design/estimate.h"
#include "engine/design/item_design.h"

#include <QFont>
#include <QPainter>
#include <QTextLayout>
#include <cstdint>
#include <string_view>
#include <vector>

namespace scorrere::render {

/// The fonts of a design's text styles at one text scale: made once, used by every view.
struct FontSet {
    struct Face {
        QFont font;
        double lineHeight = 0; ///< px
        double ascent = 0;     ///< from a line's top to its baseline, px
    };
    std::vector<Face> faces;
    /// Differs between any two sets that were made, wherever they stand: what was laid out with one is out of
    /// date under another. Copies have it in common.
    std::uint64_t revision = 0;
    double textScale = 1;

    FontSet() = default;
    FontSet(const ItemDesign& design, double scale);
    /// Advances of the same fonts, for estimates. About 1 ms for a style nobody asked for before.
    /// Threads     A worker's: it may wait for another.
    std::vector<AdvanceTable> advanceTables() const;
};

/// The family everything is set in.
QString textFamily();

/// One text of an item view: shaped once, kept, painted from the kept lines.
///
/// Units       px. Every line is as high as its style says, whatever fonts its script falls back to.
/// Complexity  set() shapes only when the text differs from the kept one; another width only breaks lines again.
/// Threads     The interface thread.
class TextBlock {
public:
    /// Gives the size it takes. `maxLines` 0: as many as it takes; what does not fit ends in an ellipsis.
    TextSize set(std::string_view text, const FontSet::Face& face, Length maxWidth, int maxLines);
    /// Lines start at `at`, against that side of `width`: AlignLeft, AlignHCenter or AlignRight.
    void paint(QPainter& painter, QPointF at, double width, Qt::AlignmentFlag side) const;
    int lines() const { return layout_.lineCount(); }
    /// How far a line's text reaches, px.
    double lineWidth(int line) const { return layout_.lineAt(line).naturalTextWidth(); }
    /// Something did not fit and gave way to an ellipsis.
    bool isCut() const { return cut_; }
    bool isRightToLeft() const { return layout_.text().isRightToLeft(); }
    /// About what the kept lines and glyphs take.
    std::int64_t bytes() const { return 1200 + 60 * static_cast<std::int64_t>(layout_.text().size()); }
    /// Texts shaped since the program started: for tests that count.
    static std::int64_t shapedEver();

private:
    void breakLines(double width, int maxLines, const FontSet::Face& face);

    QTextLayout layout_;
    std::string text_;
    QFont font_;
    double width_ = -1;
    int maxLines_ = -1;
    bool cut_ = false;
    TextSize size_;
};

} // namespace scorrere::render
