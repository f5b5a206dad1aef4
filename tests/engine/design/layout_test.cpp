// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/design/estimate.h"
#include "engine/design/layout.h"
#include "engine/record/record_builder.h"

#include <algorithm>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

/// Every character is 10 px wide, every line 20 high.
class TenPx final : public TextMeasurer {
public:
    TextSize measure(int, std::string_view text, const TextStyle&, Length maxWidth, int maxLines) override {
        ++asked;
        const auto length = static_cast<std::int64_t>(text.size()) * 10;
        const std::int64_t width = std::max<std::int64_t>(maxWidth.raw() / 64, 10);
        std::int64_t lines = std::max<std::int64_t>(1, (length + width - 1) / width);
        lines = maxLines > 0 ? std::min<std::int64_t>(lines, maxLines) : lines;
        return {Length::px(std::min(length, width)), Length::px(20 * lines)};
    }
    Length ascent(int) override { return Length::px(15); }
    int asked = 0;
};

PartSpec text(const std::string& says, int lines = 1) {
    PartSpec part;
    part.type = PartType::Text;
    part.binding = says;
    part.lines = lines;
    return part;
}
PartSpec box(PartType type, std::vector<PartSpec> children, int gap = 0, int padding = 0) {
    PartSpec part;
    part.type = type;
    part.align = type == PartType::Row ? Align::Start : Align::Stretch;
    part.children = std::move(children);
    part.gap = Length::px(gap);
    part.padding.fill(Length::px(padding));
    return part;
}

struct Laid {
    std::vector<PartBox> boxes;
    Length height;
    int measured = 0;
};

Laid layIn(const PartSpec& root, const ItemRoom& room, ItemSize* size = nullptr) {
    const RecordTable none;
    const auto design = ItemDesign::compile(root, none, "en");
    EXPECT_TRUE(design) << design.error().text();
    ItemContent content;
    std::vector<std::uint8_t> changed;
    design->fill(FillContext{none}, content, changed);
    Laid laid;
    TenPx measurer;
    const ItemSize solved = ItemLayout(*design, content, measurer, laid.boxes).solve(room);
    laid.height = solved.height;
    if (size != nullptr) {
        *size = solved;
    }
    laid.measured = measurer.asked;
    return laid;
}

Laid lay(const PartSpec& root, int width) {
    return layIn(root, {Length::px(width)});
}

TEST(ItemLayout, AnOpenWidthIsWhatItHoldsUpToTheMost) {
    const PartSpec root = box(PartType::Column, {text("abc"), text("defghij", 0)}, 5, 8);
    ItemSize size;
    (void)layIn(root, {Length::px(300), true, {}}, &size);
    EXPECT_EQ(size.width, Length::px(70 + 16)) << "the longest text and the padding";
    EXPECT_EQ(size.height, Length::px(8 + 20 + 5 + 20 + 8));
    (void)layIn(root, {Length::px(56), true, {}}, &size);
    EXPECT_EQ(size.width, Length::px(56)) << "no more than that";
    EXPECT_EQ(size.height, Length::px(8 + 20 + 5 + 40 + 8)) << "so the text breaks";
    PartSpec grows = text("ab");
    grows.grow = 1;
    (void)layIn(box(PartType::Row, {grows, text("cd")}, 10), {Length::px(300), true, {}}, &size);
    EXPECT_EQ(size.width, Length::px(50)) << "what grows takes what it needs";
}

TEST(ItemLayout, WhatMayGrowFillsTheLeastHeight) {
    PartSpec spring;
    spring.type = PartType::Space;
    spring.height = Length{};
    spring.grow = 1;
    const PartSpec root = box(PartType::Column, {text("top"), spring, text("foot")});
    ItemSize size;
    const Laid laid = layIn(root, {Length::px(100), false, Length::px(200)}, &size);
    EXPECT_EQ(size.height, Length::px(200));
    EXPECT_EQ(laid.boxes[3].y, Length::px(180)) << "the foot stands at the foot";
    (void)layIn(root, {Length::px(100), false, Length::px(30)}, &size);
    EXPECT_EQ(size.height, Length::px(40)) << "what it holds goes before";
}

TEST(ItemLayout, AColumnIsAsHighAsItsPartsGapsAndPadding) {
    const Laid laid = lay(box(PartType::Column, {text("abc"), text("defghij", 0)}, 5, 8), 56);
    EXPECT_EQ(laid.height, Length::px(8 + 20 + 5 + 40 + 8));
    EXPECT_EQ(laid.boxes[2].y, Length::px(33));
}

TEST(ItemLayout, ARowGivesWhatIsLeftToWhatGrows) {
    PartSpec growing = text("abcdefgh", 0);
    growing.grow = 1;
    const Laid laid = lay(box(PartType::Row, {growing, text("xy")}, 10), 100);
    EXPECT_EQ(laid.boxes[1].width, Length::px(70));
    EXPECT_EQ(laid.boxes[2].x, Length::px(80));
    EXPECT_EQ(laid.height, Length::px(40));
}

TEST(ItemLayout, APartLeftOutTakesItsGapAlong) {
    PartSpec missing = text("");
    const Laid laid = lay(box(PartType::Column, {text("a"), missing, text("b")}, 7), 100);
    EXPECT_FALSE(laid.boxes[2].shown);
    EXPECT_EQ(laid.height, Length::px(47));
}

TEST(ItemLayout, OverStacksAndAligns) {
    PartSpec badge = text("ab");
    badge.align = Align::End;
    PartSpec picture;
    picture.type = PartType::Picture;
    picture.binding = "x";
    picture.aspect = 2;
    const Laid laid = lay(box(PartType::Over, {picture, badge}), 100);
    EXPECT_EQ(laid.height, Length::px(50));
    EXPECT_EQ(laid.boxes[2].x, Length::px(80));
    EXPECT_EQ(laid.boxes[2].y, Length{});
}

TEST(ItemLayout, LinesAndSpacesTakeTheirThickness) {
    PartSpec line;
    line.type = PartType::Line;
    line.height = Length::px(1);
    PartSpec space;
    space.type = PartType::Space;
    space.height = Length::px(9);
    const Laid laid = lay(box(PartType::Column, {text("a"), space, line}), 100);
    EXPECT_EQ(laid.height, Length::px(30));
    EXPECT_EQ(laid.boxes[3].width, Length::px(100));
}

PartSpec anyDesign(int depth) {
    const int what = *rc::gen::inRange(0, depth > 0 ? 5 : 2);
    if (what < 2) {
        PartSpec part = text(std::string(static_cast<std::size_t>(*rc::gen::inRange(0, 40)), 'm'),
                             *rc::gen::inRange(0, 3));
        part.grow = *rc::gen::element(0.0, 0.0, 1.0, 2.0);
        return part;
    }
    std::vector<PartSpec> children;
    for (int i = *rc::gen::inRange(0, 5); i > 0; --i) {
        children.push_back(anyDesign(depth - 1));
    }
    PartSpec part = box(what == 2   ? PartType::Row
                        : what == 3 ? PartType::Column
                                    : PartType::Over,
                        children, *rc::gen::inRange(0, 9), *rc::gen::inRange(0, 9));
    part.grow = *rc::gen::element(0.0, 1.0);
    return part;
}

RC_GTEST_PROP(ItemLayout, PartsOfAColumnOrRowNeverOverlapAndTextsAreMeasuredOnce, ()) {
    const PartSpec root = box(PartType::Column, {anyDesign(3), anyDesign(3)}, 3, 3);
    const Laid laid = lay(root, *rc::gen::inRange(200, 900));
    const RecordTable none;
    const auto design = ItemDesign::compile(root, none, "en");
    int texts = 0;
    for (std::size_t i = 0; i < laid.boxes.size(); ++i) {
        const PlanPart& part = design->parts()[i];
        texts += part.type == PartType::Text && laid.boxes[i].shown ? 1 : 0;
        const PartBox* last = nullptr;
        for (int c = static_cast<int>(i) + 1; c < part.subtreeEnd;
             c = design->parts()[static_cast<std::size_t>(c)].subtreeEnd) {
            const PartBox& child = laid.boxes[static_cast<std::size_t>(c)];
            if (!child.shown) {
                continue;
            }
            RC_ASSERT(child.y >= laid.boxes[i].y);
            RC_ASSERT(child.x >= laid.boxes[i].x);
            RC_ASSERT(child.y + child.height <= laid.boxes[i].y + laid.boxes[i].height);
            if (last != nullptr && part.type == PartType::Column) {
                RC_ASSERT(child.y >= last->y + last->height + part.gap);
            }
            if (last != nullptr && part.type == PartType::Row) {
                RC_ASSERT(child.x >= last->x + last->width + part.gap);
            }
            last = &child;
        }
    }
    RC_ASSERT(laid.measured == texts);
}

/// A design of every kind of part and box, some with limits on their size.
PartSpec anyRichDesign(int depth) {
    PartSpec part = anyDesign(0);
    const int what = *rc::gen::inRange(0, depth > 0 ? 9 : 5);
    if (what == 1) {
        part.type = PartType::Badge;
        part.align = Align::Start;
        part.padding = {Length::px(1), Length::px(6), Length::px(1), Length::px(6)};
    } else if (what == 2) {
        part = {};
        part.type = PartType::Picture;
        part.binding = "x";
        part.aspect = *rc::gen::element(0.5, 1.0, 1.78);
        part.align = Align::Start;
        part.width = Length::px(*rc::gen::inRange(10, 90));
    } else if (what == 3) {
        part = {};
        part.type = PartType::Line;
        part.height = Length::px(1);
    } else if (what == 4) {
        part = {};
        part.type = PartType::Space;
        part.height = Length::px(*rc::gen::inRange(0, 20));
    } else if (what > 4) {
        std::vector<PartSpec> children;
        for (int i = *rc::gen::inRange(1, 5); i > 0; --i) {
            children.push_back(anyRichDesign(depth - 1));
        }
        part = box(what == 5   ? PartType::Row
                   : what == 6 ? PartType::Wrap
                   : what == 7 ? PartType::Over
                               : PartType::Column,
                   children, *rc::gen::inRange(0, 9), *rc::gen::inRange(0, 9));
        part.align = what == 6 ? Align::Start : part.align;
        part.lineGap = Length::px(3);
    }
    part.grow = *rc::gen::element(0.0, 0.0, 1.0);
    if (*rc::gen::inRange(0, 8) == 0) {
        part.maxHeight = Length::px(*rc::gen::inRange(5, 60));
    }
    if (*rc::gen::inRange(0, 8) == 0) {
        part.minHeight = Length::px(*rc::gen::inRange(5, 60));
        part.maxHeight.reset();
    }
    return part;
}

struct Solved {
    std::optional<ItemDesign> design;
    std::vector<PartBox> boxes;
    Length height;
};

Solved solve(const PartSpec& root, Length width, const std::string& locale = "en") {
    const RecordTable none;
    Solved solved;
    auto design = ItemDesign::compile(root, none, locale);
    RC_ASSERT(static_cast<bool>(design));
    solved.design = std::move(*design);
    ItemContent content;
    std::vector<std::uint8_t> changed;
    solved.design->fill(FillContext{none}, content, changed);
    TenPx measurer;
    solved.height = ItemLayout(*solved.design, content, measurer, solved.boxes).solve({width}).height;
    return solved;
}

bool overlaps(const PartBox& a, const PartBox& b) {
    return a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
}

RC_GTEST_PROP(ItemLayout, PartsNeverOverlapOutsideOverAndStayInsideUnlessMarked, ()) {
    const PartSpec root = box(PartType::Column, {anyRichDesign(3), anyRichDesign(3)}, 3, 3);
    const Solved laid = solve(root, Length::px(*rc::gen::inRange(60, 900)));
    const std::vector<LayoutFault> faults = layoutFaults(*laid.design, laid.boxes);
    const auto marked = [&](int part) {
        return std::ranges::any_of(faults, [part, &laid](const LayoutFault& fault) {
            return fault.part == part ||
                   (fault.part < part &&
                    laid.design->parts()[static_cast<std::size_t>(fault.part)].subtreeEnd > part);
        });
    };
    const auto& parts = laid.design->parts();
    for (int i = 0; i < static_cast<int>(parts.size()); ++i) {
        const PlanPart& part = parts[static_cast<std::size_t>(i)];
        const PartBox& around = laid.boxes[static_cast<std::size_t>(i)];
        if (!around.shown) {
            i = part.subtreeEnd - 1;
            continue;
        }
        std::vector<const PartBox*> before;
        for (int c = i + 1; c < part.subtreeEnd; c = parts[static_cast<std::size_t>(c)].subtreeEnd) {
            const PartBox& child = laid.boxes[static_cast<std::size_t>(c)];
            if (!child.shown) {
                continue;
            }
            const bool inside = child.x >= around.x && child.y >= around.y &&
                                child.x + child.width <= around.x + around.width &&
                                child.y + child.height <= around.y + around.height;
            RC_ASSERT(inside || marked(c));
            for (const PartBox* other : before) {
                RC_ASSERT(part.type == PartType::Over || !overlaps(*other, child));
            }
            before.push_back(&child);
        }
    }
}

RC_GTEST_PROP(ItemLayout, AColumnsHeightIsTheSumOfItsPartsWithinItsLimits, ()) {
    const PartSpec root = box(PartType::Column, {anyRichDesign(2), anyRichDesign(2), anyRichDesign(2)},
                              *rc::gen::inRange(0, 9), *rc::gen::inRange(0, 9));
    const Solved laid = solve(root, Length::px(*rc::gen::inRange(60, 900)));
    const auto& parts = laid.design->parts();
    for (std::size_t i = 0; i < parts.size(); ++i) {
        if (parts[i].type != PartType::Column || !laid.boxes[i].shown) {
            continue;
        }
        Length sum = parts[i].padding[0] + parts[i].padding[2];
        int shown = 0;
        bool grows = false;
        for (int c = static_cast<int>(i) + 1; c < parts[i].subtreeEnd;
             c = parts[static_cast<std::size_t>(c)].subtreeEnd) {
            if (laid.boxes[static_cast<std::size_t>(c)].shown) {
                sum += laid.boxes[static_cast<std::size_t>(c)].height;
                grows = grows || parts[static_cast<std::size_t>(c)].grow > 0;
                ++shown;
            }
        }
        sum += parts[i].gap * std::max(shown - 1, 0);
        Length expected = std::max(sum, parts[i].minHeight);
        expected = parts[i].maxHeight < Length{} ? expected : std::min(expected, parts[i].maxHeight);
        // What grows takes what the least height leaves, so its share is in the sum already.
        RC_ASSERT(laid.boxes[i].height == expected || (grows && laid.boxes[i].height >= parts[i].minHeight));
    }
}

RC_GTEST_PROP(ItemLayout, TheMirroredLayoutIsTheMirror, ()) {
    const PartSpec root = box(PartType::Column, {anyRichDesign(3)}, 3, 3);
    const Length width = Length::px(*rc::gen::inRange(60, 900));
    const Solved leftToRight = solve(root, width, "en");
    const Solved rightToLeft = solve(root, width, "ar");
    RC_ASSERT(leftToRight.height == rightToLeft.height);
    for (std::size_t i = 0; i < leftToRight.boxes.size(); ++i) {
        const PartBox& a = leftToRight.boxes[i];
        const PartBox& b = rightToLeft.boxes[i];
        RC_ASSERT(a.shown == b.shown);
        RC_ASSERT(a.y == b.y);
        RC_ASSERT(a.width == b.width);
        RC_ASSERT(a.height == b.height);
        RC_ASSERT(!a.shown || b.x == width - a.x - a.width);
    }
}

RC_GTEST_PROP(ItemLayout, IsTheSameAtEveryDensityUpToRounding, ()) {
    const Solved laid = solve(box(PartType::Column, {anyRichDesign(3), anyRichDesign(3)}, 3, 3),
                              Length::px(*rc::gen::inRange(60, 900)));
    for (const double density : {1.0, 1.5, 2.0, 3.0}) {
        for (std::size_t i = 0; i < laid.boxes.size(); ++i) {
            const PartBox& box_ = laid.boxes[i];
            const DeviceBox device = inDevicePx(box_, density);
            RC_ASSERT(std::abs(static_cast<double>(device.left) - box_.x.toPx() * density) <= 0.5);
            RC_ASSERT(std::abs(static_cast<double>(device.bottom - device.top) -
                               box_.height.toPx() * density) <= 1.0);
            for (const PartBox& other : laid.boxes) { // what touches goes on touching
                RC_ASSERT(other.y != box_.y + box_.height || inDevicePx(other, density).top == device.bottom);
            }
        }
    }
}

TEST(LayoutFaults, NameWhatFallsOutsideAndWhatIsSqueezed) {
    PartSpec line;
    line.type = PartType::Line;
    line.height = Length::px(1);
    PartSpec root = box(PartType::Column, {text("a"), text("b"), text("c", 0), line});
    root.height = Length::px(60);
    PartSpec wide = text("squeezed");
    wide.width = Length::px(400);
    const Laid laid = lay(root, 100);
    const auto design = ItemDesign::compile(root, {}, "en");
    const auto faults = layoutFaults(*design, laid.boxes);
    ASSERT_EQ(faults.size(), 1u);
    EXPECT_EQ(faults[0].part, 4);
    EXPECT_EQ(faults[0].kind, LayoutFault::Kind::Outside);
    EXPECT_EQ(faults[0].by, Length::px(1));
    const PartSpec row = box(PartType::Row, {text("before"), wide});
    const auto narrow = layoutFaults(*ItemDesign::compile(row, {}, "en"), lay(row, 200).boxes);
    ASSERT_EQ(narrow.size(), 1u);
    EXPECT_EQ(narrow[0].kind, LayoutFault::Kind::Squeezed);
}

TEST(ItemLayout, AWrapGoesOnBelowWhenALineIsFull) {
    PartSpec wrap = box(PartType::Wrap, {text("aaaa"), text("bbbb"), text("cccc")}, 5);
    wrap.align = Align::Start;
    wrap.lineGap = Length::px(3);
    const Laid laid = lay(wrap, 100);
    EXPECT_EQ(laid.boxes[2].x, Length::px(45));
    EXPECT_EQ(laid.boxes[3].x, Length{});
    EXPECT_EQ(laid.boxes[3].y, Length::px(23));
    EXPECT_EQ(laid.height, Length::px(43));
}

TEST(ItemLayout, ALineOfAWrapStandsOnOneBaseline) {
    PartSpec padded = text("bb");
    padded.padding = {Length::px(6), Length{}, Length::px(2), Length{}};
    PartSpec block;
    block.type = PartType::Space;
    block.width = Length::px(10);
    block.height = Length::px(40);
    PartSpec boxed = box(PartType::Column, {text("c")}, 0, 1);
    boxed.align = Align::Start;
    PartSpec wrap = box(PartType::Wrap, {text("a"), padded, boxed, block, text("next"), text("line")}, 5);
    wrap.lineGap = Length::px(3);
    const Laid laid = lay(wrap, 80);
    const auto y = [&laid](std::size_t part) { return laid.boxes[part].y; };
    // The baselines are 15, 21 and 16 px below the tops; the texts take 28 px, in the middle of 40.
    EXPECT_EQ(y(1), Length::px(6 + 6));
    EXPECT_EQ(y(2), Length::px(6));
    EXPECT_EQ(y(3), Length::px(6 + 5));
    EXPECT_EQ(y(5), Length{}) << "what has no baseline stands in the middle";
    EXPECT_EQ(y(6), Length::px(43));
    EXPECT_EQ(laid.height, Length::px(40 + 3 + 20 + 3 + 20));
}

TEST(ItemLayout, APartThatKeepsItsPlaceTakesALineWhileItsValueIsMissing) {
    PartSpec late = text("");
    late.keepsPlace = true;
    EXPECT_EQ(lay(box(PartType::Column, {text("a"), late}), 100).height, Length::px(40));
    late.keepsPlace = false;
    EXPECT_EQ(lay(box(PartType::Column, {text("a"), late}), 100).height, Length::px(20));
}

TEST(ItemDesign, ABindingToAFieldThatIsNotThereIsLocated) {
    PartSpec part = text("{nothing}");
    part.pointer = "/items/record/column/0";
    const auto design = ItemDesign::compile(part, {}, "en");
    ASSERT_FALSE(design);
    EXPECT_EQ(design.error().place.pointer, "/items/record/column/0/text");
}

TEST(ItemDesign, TooManyPartsAreRefused) {
    const auto design =
        ItemDesign::compile(box(PartType::Column, std::vector<PartSpec>(10'000, text("x"))), {}, "en");
    ASSERT_FALSE(design);
    EXPECT_EQ(design.error().code, ErrorCode::TooLarge);
}

TEST(ItemDesign, AFillTellsWhatDiffers) {
    RecordBuilder builder;
    for (const auto& [a, b] : {std::pair{"x", "same"}, std::pair{"y", "same"}}) {
        builder.setText(builder.fieldNamed("a"), a);
        builder.setText(builder.fieldNamed("b"), b);
        builder.endRecord();
    }
    const RecordTable table = builder.finish();
    const auto design = ItemDesign::compile(box(PartType::Column, {text("{a}"), text("{b}")}), table, "en");
    ASSERT_TRUE(design);
    ItemContent content;
    std::vector<std::uint8_t> changed;
    design->fill(FillContext{table, 0}, content, changed);
    EXPECT_EQ(changed, (std::vector<std::uint8_t>{1, 1}));
    design->fill(FillContext{table, 1}, content, changed);
    EXPECT_EQ(changed, (std::vector<std::uint8_t>{1, 0}));
    design->fill(FillContext{table, 1}, content, changed);
    EXPECT_EQ(changed, (std::vector<std::uint8_t>{0, 0}));
}

AdvanceTable tenPxTable() {
    AdvanceTable table;
    table.lineHeight = Length::px(20);
    table.first.fill(640);
    table.punctuation.fill(640);
    return table;
}

TEST(EstimateText, BreaksGreedilyAtSpacesAndHyphens) {
    const AdvanceTable table = tenPxTable();
    const auto lines = [&](const char* text, int width, int most = 0) {
        return estimateText(table, text, Length::px(width), most)->height.raw() / Length::px(20).raw();
    };
    EXPECT_EQ(lines("one two three", 130), 1);
    EXPECT_EQ(lines("one two three", 120), 2);
    EXPECT_EQ(lines("one two three", 50), 3);
    EXPECT_EQ(lines("half-open", 60), 2);
    EXPECT_EQ(lines("abcdefghij", 30), 4);
    EXPECT_EQ(lines("one two three", 50, 2), 2);
    EXPECT_EQ(lines("a\nb", 500), 2);
    EXPECT_EQ(lines("", 500), 1);
}

TEST(EstimateText, KnowsWhatItDoesNotKnow) {
    AdvanceTable table = tenPxTable();
    EXPECT_FALSE(estimateText(table, "アケボノ", Length::px(100), 0));
    table.first[U'q'] = -1;
    EXPECT_FALSE(estimateText(table, "quiet", Length::px(100), 0));
}

} // namespace
} // namespace scorrere
