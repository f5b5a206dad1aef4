// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/design/values.h"
#include "engine/extent/length.h"

#include <array>
#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace scorrere {

enum class PartType : std::uint8_t {
    Text,
    Picture,
    Badge, ///< a text in a tone, on a ground of its own
    Meter, ///< a number between two ends
    Scale, ///< a small whole number as marks, or as one glyph a step
    Line,
    Space,
    Row,
    Column,
    Over,
    Wrap,   ///< a row that goes on below when it is full
    Repeat, ///< its one child once for each entry of a list
    Strip,  ///< the entries of a list, in a strip of its own that is scrolled by itself
    Piece,  ///< a reusable piece, put in when the design is compiled
};
/// Its word in the document: "text", "picture".
const char* partWord(PartType type);
inline bool isBox(PartType type) {
    return type == PartType::Row || type == PartType::Column || type == PartType::Over ||
           type == PartType::Wrap;
}

enum class Align : std::uint8_t { Start, Center, End, Stretch };
enum class Fit : std::uint8_t { Fit, Fill, Stretch };
enum class Fade : std::uint8_t { None, Start, End, Both };
/// The meaning of a colour.
enum class Tone : std::uint8_t { Neutral, Note, Good, Caution, Bad };
constexpr std::size_t kTones = 5;
const char* toneWord(Tone tone);

struct TextStyle {
    Length size = Length::px(15); ///< at text scale 1
    int weight = 400;             ///< 100 to 900
    bool italic = false;
    bool operator==(const TextStyle&) const = default;
};

/// The first rule that holds sets the tone; one without a condition always does.
struct ToneRule {
    Tone tone = Tone::Neutral;
    std::string when;
};

/// A number, or the name of the parameter that says it.
struct Bound {
    double number = 0;
    std::string parameter; ///< empty: `number`
};

/// Short texts in a picture's place, by the reason why there is none; empty: an outline only.
struct PictureFallback {
    std::string none;    ///< the record names no picture
    std::string missing; ///< it is not where its address says
    std::string broken;  ///< it does not decode
};

/// An item design as written: a tree of parts. Lengths are density-independent px.
struct PartSpec {
    PartType type = PartType::Column;
    /// Text, Badge: what it says, a MessageFormat pattern. Picture: its address, a URI template. Meter,
    /// Scale: the field. Repeat, Strip: the list field. Piece: its name.
    std::string binding;
    std::optional<std::string> missing; ///< what a text says when a field is missing; else it is left out
    bool keepsPlace =
        false; ///< a part whose value is missing keeps its place, so that a late value moves nothing
    TextStyle style;
    std::string colour =
        "ink";          ///< a role (ink, quiet, accent, faint, note, good, caution, bad, paper) or #rrggbb
    std::string ground; ///< what a box, or a text, stands on; empty: nothing
    int lines = 1;      ///< at most; 0: as many as it takes
    Align align = Align::Stretch; ///< Boxes: across their axis. Text: its lines. Over: where a child stands.
    double grow = 0;              ///< share of what is left along the box
    Length gap;                   ///< between children
    Length lineGap;               ///< Wrap: between its lines
    std::array<Length, 4> padding{}; ///< top, end, bottom, start
    std::optional<Length> width;
    std::optional<Length> height;
    std::optional<Length> minHeight;
    std::optional<Length> maxHeight;
    Length radius;
    std::vector<ToneRule> tones;
    std::string hide; ///< a rule; empty: never
    std::string tap;  ///< what a tap on it does, in the application's words; empty: nothing

    double aspect = 0;                       ///< Picture: width / height where one of them is open
    std::array<std::string, 2> aspectFields; ///< the fields that say width and height; empty: none
    bool aspectMeasured = false;             ///< known when the picture arrives; `aspect` until then
    Fit fit = Fit::Fill;
    std::array<double, 2> focus{0.5,
                                0.5};  ///< Fill: what stays when it is cropped, as shares from start and top
    std::string placeholder = "faint"; ///< a colour while it is on its way
    PictureFallback fallback;
    std::string label; ///< what is said of it to those who do not see it; a pattern

    Bound low;                       ///< Meter
    Bound high{100, {}};             ///< Meter
    int steps = 5;                   ///< Scale
    std::vector<std::string> glyphs; ///< Scale: one a step, or a full and an empty one; none: drawn marks
    Fade fade = Fade::None;          ///< Line
    int most = 6;                    ///< Repeat: at most so many
    std::string more = "+{more}";    ///< Repeat: said of the rest
    PartType repeatAs = PartType::Wrap;

    std::map<std::string, std::string> inputs; ///< Piece: given to it
    std::vector<PartSpec> children;
    std::string pointer; ///< where it stands in the document
};

/// A named group of parts used in several designs. Its inputs stand in its patterns and rules as fields do.
struct PieceSpec {
    std::vector<std::string> inputs;
    PartSpec body;
};
using Pieces = std::map<std::string, PieceSpec>;

} // namespace scorrere
