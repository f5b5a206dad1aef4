// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QPaintDevice>
#include <QPaintEngine>
#include <QPainter>
#include <QRectF>
#include <QString>
#include <QWidget>
#include <vector>

namespace scorrere::testing {

/// A word that a widget painted, and where: px of the widget.
struct PaintedWord {
    QString text;
    QRectF at;
};

/// Takes the words that are painted, and nothing else. What is painted within a clip is cut on purpose, as a
/// collection is by its window, and left out.
class WordEngine final : public QPaintEngine {
public:
    WordEngine() : QPaintEngine(QPaintEngine::AllFeatures) {}
    bool begin(QPaintDevice*) override { return true; }
    bool end() override { return true; }
    void updateState(const QPaintEngineState& now) override {
        if (now.state() & DirtyTransform) {
            transform_ = now.transform();
        }
        if (now.state() & (DirtyClipEnabled | DirtyClipPath | DirtyClipRegion)) {
            isClipped_ = now.isClipEnabled();
        }
    }
    void drawPixmap(const QRectF&, const QPixmap&, const QRectF&) override {}
    void drawPolygon(const QPointF*, int, PolygonDrawMode) override {}
    void drawTextItem(const QPointF& at, const QTextItem& item) override {
        if (!isClipped_ && !item.text().trimmed().isEmpty()) {
            words.push_back(
                {item.text(), transform_.mapRect(QRectF(at.x(), at.y() - item.ascent(), item.width(),
                                                        item.ascent() + item.descent()))});
        }
    }
    Type type() const override { return QPaintEngine::User; }
    std::vector<PaintedWord> words;

private:
    QTransform transform_;
    bool isClipped_ = false;
};

class WordDevice final : public QPaintDevice {
public:
    explicit WordDevice(QSize size) : size_(size) {}
    QPaintEngine* paintEngine() const override { return &engine; }
    mutable WordEngine engine;

protected:
    int metric(PaintDeviceMetric what) const override {
        switch (what) {
        case PdmWidth:
            return size_.width();
        case PdmHeight:
            return size_.height();
        case PdmWidthMM:
        case PdmHeightMM:
            return 300;
        case PdmNumColors:
        case PdmDepth:
            return 32;
        case PdmDevicePixelRatio:
            return 1;
        case PdmDevicePixelRatioScaled:
            return static_cast<int>(devicePixelRatioFScale());
        default:
            return 96; // dots an inch
        }
    }

private:
    QSize size_;
};

/// The words that a widget paints itself, without what stands in it.
inline std::vector<PaintedWord> paintedWords(QWidget& widget) {
    WordDevice device(widget.size());
    widget.render(&device, QPoint(), QRegion(), QWidget::RenderFlags());
    return device.engine.words;
}

} // namespace scorrere::testing
