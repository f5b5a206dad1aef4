// SPDX-License-Identifier: GPL-3.0-or-later
// The window is a frame: another station is one more line in a list.
#include "testing/program/window_fixture.h"

#include <QScrollArea>
#include <QScrollBar>
#include <gmock/gmock.h>

namespace scorrere::testing {
namespace {

using workbench::Station;
using workbench::StationNeeds;
using workbench::Target;

/// A station that nobody knew of.
class Attic final : public Station {
public:
    explicit Attic(const StationNeeds& needs) : Station(needs) {
        addOwn(QStringLiteral("atticOwn"), QStringLiteral("Sweep"), QKeySequence(QStringLiteral("F7")),
               [this] { ++swept; });
    }
    QString id() const override { return QStringLiteral("attic"); }
    QString title() const override { return QStringLiteral("Attic"); }
    QWidget* sentence() override { return sentence_; }
    void entered() override { ++enters; }
    void left() override { ++leaves; }
    void reveal(const Target& target) override { revealed = target.record; }
    void save(QSettings& settings) const override { settings.setValue(QStringLiteral("attic"), dust); }
    void restore(QSettings& settings) override {
        dust = settings.value(QStringLiteral("attic"), QStringLiteral("new")).toString();
    }
    int swept = 0;
    int enters = 0;
    int leaves = 0;
    qint64 revealed = -1;
    QString dust;

private:
    QLabel* sentence_ = new QLabel(QStringLiteral("What is kept here."));
};

class StationsTest : public WindowTest {
protected:
    StationsTest() {
        makers.emplace_back([](const StationNeeds& needs) -> Station* { return new Attic(needs); });
        window.reset();
        makeWindow();
    }
    Attic& attic() { return *static_cast<Attic*>(window->stations().last()); }
};

TEST_F(StationsTest, OneMoreStationIsReachedShownSavedAndRestored) {
    EXPECT_EQ(attic().dust, QStringLiteral("new"));
    auto* keyed = attic().actions().isEmpty() ? attic().ownActions().first() : nullptr;
    ASSERT_NE(keyed, nullptr);
    QTest::keyClick(window.get(), Qt::Key_F7);
    EXPECT_EQ(attic().swept, 0) << "its actions are its own while it is seen";
    QTest::keyClick(window.get(), Qt::Key_4, Qt::AltModifier);
    EXPECT_EQ(window->station().id(), QStringLiteral("attic"));
    EXPECT_TRUE(attic().isVisible());
    EXPECT_EQ(attic().enters, 1);
    QTest::keyClick(window.get(), Qt::Key_F7);
    EXPECT_EQ(attic().swept, 1);
    openDemo(20);
    QTest::mouseClick(find<QToolButton>("stationAttic"), Qt::LeftButton);
    EXPECT_TRUE(attic().sentence()->isVisible());
    EXPECT_FALSE(flow().sentence()->isVisible());
    EXPECT_EQ(found(QStringLiteral("attic")),
              (QStringList{QStringLiteral("Go to Attic, Alt+4"), QStringLiteral("Sweep, F7")}));
    QTest::keyClick(find<QLineEdit>("finderLine"), Qt::Key_Escape);
    Target target;
    target.station = QStringLiteral("attic");
    target.record = 7;
    Q_EMIT flow().goWanted(target);
    EXPECT_EQ(attic().revealed, 7);
    QTest::keyClick(window.get(), Qt::Key_1, Qt::AltModifier);
    EXPECT_GE(attic().leaves, 1);
    attic().dust = QStringLiteral("thick");
    window->close();
    window.reset();
    makeWindow();
    EXPECT_EQ(attic().dust, QStringLiteral("thick"));
}

TEST_F(StationsTest, TheWindowIsNeverMadeLargerByItsWords) {
    openDemo(20);
    window->look().setTextScale(2);
    window->resize(900, 600);
    for (Station* station : window->stations()) {
        window->goTo(station->id());
        QCoreApplication::processEvents();
        EXPECT_EQ(window->size(), QSize(900, 600)) << station->id().toStdString();
        auto* room = qobject_cast<QScrollArea*>(station->parentWidget()->parentWidget());
        ASSERT_NE(room, nullptr);
        const int beyond = station->width() - room->viewport()->width();
        EXPECT_EQ(room->horizontalScrollBar()->maximum(), beyond) << "all of it can be reached";
    }
}

TEST_F(StationsTest, AFindingLeadsToWhereItCanBeSeen) {
    openDemo(20);
    workbench::Finding finding;
    finding.text = QStringLiteral("dust");
    finding.target.station = QStringLiteral("attic");
    finding.target.record = 3;
    window->workspace().findings().tell(QStringLiteral("attic"), {finding});
    auto* button = find<QToolButton>("findingsButton");
    ASSERT_TRUE(button->isVisible());
    EXPECT_EQ(button->text(), QStringLiteral("1 finding"));
    QTest::mouseClick(button, Qt::LeftButton);
    EXPECT_EQ(window->station().id(), QStringLiteral("attic"));
    EXPECT_EQ(attic().revealed, 3);
    window->workspace().findings().tell(QStringLiteral("attic"), {});
    EXPECT_FALSE(button->isVisible());
}

} // namespace
} // namespace scorrere::testing
