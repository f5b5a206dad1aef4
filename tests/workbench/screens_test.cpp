// SPDX-License-Identifier: GPL-3.0-or-later
//
// Every screen at every size, text scale, look and direction: no word is cut, nothing lies outside.
#include "testing/program/painted_words.h"
#include "testing/program/window_fixture.h"
#include "workbench/ui/look/labels.h"
#include "workbench/ui/source/call_panel.h"

#include <QAbstractButton>
#include <QApplication>
#include <QLabel>
#include <QScrollArea>

namespace scorrere::testing {
namespace {

using workbench::ElidedLabel;
using workbench::Station;

class ScreensTest : public WindowTest {
protected:
    ~ScreensTest() override {
        QApplication::setLayoutDirection(Qt::LeftToRight);
        window.reset(); // before what the look left behind: the next test starts light, at scale 1
    }

    /// The words that are cut, or stand outside of what can be scrolled to, one a line.
    QStringList cutWords() const {
        QStringList cut;
        for (const QWidget* widget : window->findChildren<QWidget*>()) {
            if (!widget->isVisible() || widget->visibleRegion().isEmpty()) {
                continue;
            }
            const auto* label = qobject_cast<const QLabel*>(widget);
            const auto* button = qobject_cast<const QAbstractButton*>(widget);
            const QString text = label != nullptr    ? label->text()
                                 : button != nullptr ? button->text()
                                                     : QString();
            if (text.isEmpty()) {
                continue;
            }
            const bool wraps = label != nullptr && label->wordWrap();
            const QSize needed =
                wraps ? QSize(0, label->heightForWidth(label->width())) : widget->minimumSizeHint();
            if (widget->width() < needed.width() || widget->height() < needed.height() - 1 ||
                isOutside(widget)) {
                cut << QStringLiteral("%1 \"%2\" has %3 x %4 of %5 x %6")
                           .arg(widget->objectName(), text.left(40))
                           .arg(widget->width())
                           .arg(widget->height())
                           .arg(needed.width())
                           .arg(needed.height());
            }
        }
        for (const QScrollArea* area : window->findChildren<QScrollArea*>()) {
            const bool isFixed = area->horizontalScrollBarPolicy() == Qt::ScrollBarAlwaysOff;
            if (area->isVisible() && isFixed && area->widget()->width() > area->viewport()->width()) {
                cut << QStringLiteral("what %1 holds is wider than it").arg(area->objectName());
            }
        }
        return cut;
    }
    /// The words that a widget of our own paints beyond its edge, one a line.
    QStringList paintedBeyond() {
        QStringList beyond;
        for (QWidget* widget : window->findChildren<QWidget*>()) {
            const bool isOwn = QByteArray(widget->metaObject()->className()).contains("workbench::");
            if (!isOwn || !widget->isVisible() || widget->visibleRegion().isEmpty()) {
                continue;
            }
            for (const PaintedWord& word : paintedWords(*widget)) {
                ++painted_;
                if (!QRectF(widget->rect()).adjusted(-2, -2, 2, 2).contains(word.at)) {
                    beyond << QStringLiteral("%1 %2 paints \"%3\" from %4, %5 to %6, %7 of %8 x %9")
                                  .arg(QLatin1String(widget->metaObject()->className()), widget->objectName(),
                                       word.text.left(40))
                                  .arg(word.at.left())
                                  .arg(word.at.top())
                                  .arg(word.at.right())
                                  .arg(word.at.bottom())
                                  .arg(widget->width())
                                  .arg(widget->height());
                }
            }
        }
        return beyond;
    }
    /// Beyond the edge of what it stands on: the window, or what a scroll area scrolls.
    bool isOutside(const QWidget* widget) const {
        const QWidget* ground = widget;
        while (ground->parentWidget() != nullptr &&
               qobject_cast<QAbstractScrollArea*>(ground->parentWidget()->parentWidget()) == nullptr &&
               ground != window.get()) {
            ground = ground->parentWidget();
        }
        const QRect at(widget->mapTo(ground, QPoint()), widget->size());
        return ground != widget && !ground->rect().adjusted(-1, -1, 1, 1).contains(at);
    }
    void lookAt(const QString& what) {
        QStringList places;
        for (const Station* station : window->stations()) {
            places << station->id();
        }
        for (const QString& place : places) {
            window->goTo(place);
            for (const QSize& size :
                 {QSize(900, 600), QSize(1100, 700), QSize(1280, 800), QSize(1920, 1080)}) {
                window->resize(size);
                (void)QTest::qWaitFor([this] { return cutWords().isEmpty(); },
                                      2000); // layouts settle in turns
                EXPECT_EQ(cutWords().join(QLatin1Char('\n')).toStdString(), "") << qPrintable(
                    QStringLiteral("%1, %2, %3 x %4").arg(what, place).arg(size.width()).arg(size.height()));
                EXPECT_EQ(paintedBeyond().join(QLatin1Char('\n')).toStdString(), "") << qPrintable(
                    QStringLiteral("%1, %2, %3 x %4").arg(what, place).arg(size.width()).arg(size.height()));
                EXPECT_EQ(window->size(), size);
            }
        }
    }
    int painted_ = 0; ///< words of our own that were looked at
    void lookAtAll(const QString& what) {
        for (const double scale : {1.0, 1.5, 2.0}) {
            window->look().setTextScale(scale);
            for (const bool dark : {false, true}) {
                window->look().setDark(dark);
                lookAt(QStringLiteral("%1 at %2%3")
                           .arg(what)
                           .arg(scale)
                           .arg(dark ? QStringLiteral(", dark") : QString()));
            }
        }
        window->look().setDark(false);
        window->look().setTextScale(1);
        EXPECT_GT(painted_, 500) << "there were words to look at";
    }
};

TEST_F(ScreensTest, NothingIsCutBeforeAnythingIsOpen) {
    lookAtAll(QStringLiteral("empty"));
}

TEST_F(ScreensTest, ASentenceLeavesTheWindowToWhatItIsAbout) {
    openDemo(1000);
    window->goTo(QStringLiteral("flow"));
    const auto heightAt = [&](double scale, QSize size) {
        window->look().setTextScale(scale);
        window->resize(size);
        EXPECT_TRUE(settle());
        return sentenceOf(flow()).height();
    };
    const int usual = heightAt(1, {1280, 800});
    const int large = heightAt(2, {900, 600});
    EXPECT_LT(large, 600 * 2 / 5);
    EXPECT_GT(large, usual * 2);
    EXPECT_GT(heightAt(2, {900, 1200}), large) << "where there is room it is as large as elsewhere";
    EXPECT_EQ(heightAt(2, {900, 600}), large) << "and by the height alone";
    window->look().setTextScale(1);
}

TEST_F(ScreensTest, NothingIsCutWithACollection) {
    openDemo(20);
    lookAtAll(QStringLiteral("demo"));
}

TEST_F(ScreensTest, NothingIsCutWhenAServiceRefuses) {
    window->workspace().opening().openDemoService();
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return document() != nullptr && !window->workspace().opening().isBusy(); }));
    find<workbench::CallPanel>("callPanel")->askSecret(QStringLiteral("HOLLOWMERE"), true);
    lookAtAll(QStringLiteral("refused"));
}

TEST_F(ScreensTest, NothingIsCutOfAStripToTheSideThatIsTurnedByHand) {
    window->workspace().opening().openDemoIn(service::DemoForm::Strip);
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return document() != nullptr && !window->workspace().opening().isBusy(); }));
    CollectionDocument to = *document();
    to.arrangement.byHand = 20;
    window->workspace().change(QStringLiteral("change"), to);
    lookAtAll(QStringLiteral("sideways"));
}

TEST_F(ScreensTest, NothingIsCutInWindowsBesideEachOther) {
    openDemo(20);
    CollectionDocument to = *document();
    to.window.beside.resize(2);
    to.window.beside[0].device = "tablet";
    to.window.beside[1].look = "dark";
    window->workspace().change(QStringLiteral("change"), to);
    lookAtAll(QStringLiteral("beside"));
}

TEST_F(ScreensTest, NothingIsCutFromRightToLeft) {
    QApplication::setLayoutDirection(Qt::RightToLeft);
    openDemo(20);
    lookAtAll(QStringLiteral("right to left"));
}

} // namespace
} // namespace scorrere::testing
