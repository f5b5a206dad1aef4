// SPDX-License-Identifier: GPL-3.0-or-later
// A run that was brought somewhere by changes shows what one that was started there shows.
#include "render/live_collection.h"
#include "service/demo_document.h"
#include "service/moths.h"
#include "service/wing_pictures.h"

#include <QImage>
#include <QPainter>
#include <QTest>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere::render {
namespace {

constexpr std::int64_t kRecords = 400;

constexpr const char* kTable =
    R"({"items": {"record": {"row": [{"text": "{species}", "width": 120}, {"text": "{note}", "grow": 1, "lines": 0},
        {"badge": "{status}", "width": 160}], "gap": 8, "padding": 8}}})";

/// All that can be set of a run.
struct Setting {
    double width = 392;
    double height = 780;
    double textScale = 1;
    double lead = 0.5;
    double odd = 60; ///< a parameter of the demo: rules read it
    bool dark = false;
    double density = 1;
    bool strips = false; ///< the demo with strips within its items, which has no parameter
    bool table = false;  ///< one whose columns do not follow what was seen
};

class Shown {
public:
    explicit Shown(const Setting& at) : setting_(at) {
        auto document = CollectionDocument::parse(
            at.strips ? service::demoDocument(service::DemoForm::Company) : service::demoDocument(kRecords),
            "");
        if (at.table) {
            document = document->withDesign(kTable);
            document->arrangement.form = TableSpec();
        }
        document->window.textScale = at.textScale;
        document->viewLead = at.lead;
        setParameter(document->parameters, at.odd);
        static const auto records = std::make_shared<const RecordTable>(
            service::makeSightings(kRecords, 1, {}, {}, {false, false, true}).value());
        auto made = LiveCollection::create(*document, records, std::make_shared<service::WingPictures>(),
                                           Estimating::Never);
        EXPECT_TRUE(made) << made.error().text();
        live_ = std::move(*made);
        live_->setWindow(at.width, at.height);
        settle();
    }
    /// The same by changes.
    void bringTo(const Setting& to) {
        live_->setTextScale(to.textScale);
        live_->setWindow(to.width, to.height);
        live_->run().setViewLead(to.lead);
        Parameters parameters = live_->document().parameters;
        setParameter(parameters, to.odd);
        live_->setParameters(parameters);
        setting_ = to;
        settle();
    }
    void scroll(int px) {
        live_->run().wheel(Length::px(px));
        settle();
    }
    void jumpTo(std::int64_t position) {
        live_->run().jumpTo(position);
        settle();
    }
    std::int64_t position() const { return live_->run().hold().position; }
    std::vector<std::tuple<std::int64_t, Length, Length>> placements() const {
        std::vector<std::tuple<std::int64_t, Length, Length>> all;
        for (const Placement& placement : live_->run().placements()) {
            if (placement.showing) {
                all.emplace_back(placement.position, placement.box.start, placement.box.extent);
            }
        }
        return all;
    }
    QImage picture() {
        const ItemColours colours = setting_.dark ? ItemColours::dark() : ItemColours::light();
        QImage image;
        for (int i = 0; i < 3; ++i) { // once from the layouts, then from the pictures kept of them
            image =
                QImage(QSizeF(setting_.width * setting_.density, setting_.height * setting_.density).toSize(),
                       QImage::Format_RGB32);
            image.fill(Qt::white);
            QPainter painter(&image);
            painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
            painter.scale(setting_.density, setting_.density);
            live_->paintWindow(painter, colours, setting_.density);
            painter.end();
            EXPECT_TRUE(QTest::qWaitFor([this] { return live_->pictures().isQuiet(); }, 10'000));
            settle();
        }
        return image;
    }

private:
    static void setParameter(Parameters& parameters, double odd) {
        if (!parameters.empty()) {
            parameters[0].number = odd;
        }
    }
    void settle() {
        for (int i = 0; i < 500; ++i) {
            live_->frame(now_ += 8333);
            if (live_->isIdle()) {
                return;
            }
        }
        FAIL() << "it does not come to rest";
    }
    Setting setting_;
    std::unique_ptr<LiveCollection> live_;
    std::int64_t now_ = 0;
};

void expectAlike(Shown& changed, const Setting& at, std::int64_t position) {
    Shown fresh(at);
    changed.jumpTo(position);
    fresh.jumpTo(position);
    EXPECT_EQ(changed.placements(), fresh.placements());
    EXPECT_EQ(changed.picture(), fresh.picture());
}

TEST(ChangedEqualsFresh, ATextScaleThereAndBack) {
    Shown shown({});
    shown.scroll(2000);
    Setting large;
    large.textScale = 2;
    shown.bringTo(large);
    expectAlike(shown, large, shown.position());
    shown.bringTo({});
    expectAlike(shown, {}, shown.position());
}

TEST(ChangedEqualsFresh, InATable) {
    Setting usual;
    usual.table = true;
    Shown shown(usual);
    shown.scroll(1500);
    for (Setting to : {Setting{.textScale = 2}, Setting{.width = 700}, Setting{.dark = true},
                       Setting{.density = 2}, Setting{}}) {
        to.table = true;
        shown.bringTo(to);
        expectAlike(shown, to, 40);
        shown.scroll(700);
    }
}

TEST(ChangedEqualsFresh, WithStripsWithinItems) {
    const Setting usual{.strips = true};
    Shown shown(usual);
    shown.scroll(1500);
    for (Setting to : {Setting{.textScale = 2}, Setting{.width = 300}, Setting{.dark = true},
                       Setting{.density = 2}, Setting{}}) {
        to.strips = true;
        shown.bringTo(to);
        expectAlike(shown, to, 20);
        shown.scroll(700);
    }
}

TEST(ChangedEqualsFresh, AParameterAWidthALeadALookAndADensity) {
    Shown shown({});
    for (const Setting& to : {Setting{.odd = 20}, Setting{.width = 300}, Setting{.lead = 2},
                              Setting{.dark = true}, Setting{.density = 2}, Setting{}}) {
        shown.bringTo(to);
        expectAlike(shown, to, 50);
    }
}

RC_GTEST_PROP(ChangedEqualsFresh, HoweverItCameThere, ()) {
    const auto any = [] {
        Setting setting;
        setting.width = *rc::gen::element(300.0, 392.0, 700.0);
        setting.height = *rc::gen::element(300.0, 780.0);
        setting.textScale = *rc::gen::element(0.75, 1.0, 1.5, 2.0);
        setting.lead = *rc::gen::element(0.0, 0.5, 2.0);
        setting.odd = *rc::gen::element(10.0, 40.0, 60.0, 90.0);
        setting.dark = *rc::gen::arbitrary<bool>();
        return setting;
    };
    Shown changed(any());
    Setting at;
    for (int steps = *rc::gen::inRange(1, 5); steps > 0; --steps) {
        at = any();
        changed.scroll(*rc::gen::inRange(-3000, 3000));
        changed.bringTo(at);
    }
    const std::int64_t position = *rc::gen::inRange<std::int64_t>(0, kRecords - 30);
    Shown fresh(at);
    changed.jumpTo(position);
    fresh.jumpTo(position);
    RC_ASSERT(changed.placements() == fresh.placements());
    RC_ASSERT(changed.picture() == fresh.picture());
}

} // namespace
} // namespace scorrere::render
