// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/weather.h"
#include "workbench/ui/look/look.h"

#include <QCheckBox>
#include <QFrame>
#include <QSpinBox>

namespace scorrere::workbench {

/// The weather on the wire in numbers: a small card that opens at its word.
class WeatherCard : public QFrame {
    Q_OBJECT
public:
    WeatherCard(Look& look, const render::Weather& weather, QWidget* parent);
    void openAt(const QWidget& word);

Q_SIGNALS:
    void weatherWanted(const scorrere::render::Weather& weather);

private:
    QSpinBox* addNumber(const char* name, const QString& title, const QString& unit, int most,
                        std::int64_t now);
    void tell();

    QSpinBox* latency_ = nullptr;
    QSpinBox* jitter_ = nullptr;
    QSpinBox* rate_ = nullptr;
    QSpinBox* loss_ = nullptr;
    QSpinBox* failing_ = nullptr;
    QCheckBox* offline_ = nullptr;
};

} // namespace scorrere::workbench
