// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/weather_card.h"

#include <QFormLayout>
#include <QLabel>

namespace scorrere::workbench {

WeatherCard::WeatherCard(Look& look, const render::Weather& weather, QWidget* parent)
    : QFrame(parent, Qt::Popup) {
    setObjectName(QStringLiteral("weatherCard"));
    setAttribute(Qt::WA_DeleteOnClose);
    setFont(look.font(13));
    setStyleSheet(QStringLiteral("#weatherCard { background: %1; border: 1px solid %2; } "
                                 "#weatherCard QLabel, #weatherCard QCheckBox { color: %3; }")
                      .arg(look.card.name(), look.edge.name(), look.ink.name()));
    auto* form = new QFormLayout(this);
    form->setContentsMargins(16, 12, 16, 14);
    form->setVerticalSpacing(7);
    auto* heading = new QLabel(tr("The network, as if it were this (on top of what it is)"));
    heading->setFont(look.font(13, 650));
    form->addRow(heading);
    latency_ = addNumber("latency", tr("latency"), tr(" ms"), 60'000, weather.latencyMs);
    jitter_ = addNumber("jitter", tr("of it, up to so much by chance"), tr(" ms"), 60'000, weather.jitterMs);
    rate_ = addNumber("rate", tr("kB a second (0: as fast as it can)"), tr(" kB/s"), 1'000'000,
                      weather.bytesPerSecond / 1000);
    loss_ = addNumber("loss", tr("calls that get no answer"), tr(" %"), 100,
                      static_cast<std::int64_t>(weather.lossShare * 100));
    failing_ = addNumber("failing", tr("calls that fail (503)"), tr(" %"), 100,
                         static_cast<std::int64_t>(weather.failShare * 100));
    offline_ = new QCheckBox(tr("no network at all"));
    offline_->setObjectName(QStringLiteral("offline"));
    offline_->setChecked(weather.offline);
    form->addRow(offline_);
    connect(offline_, &QCheckBox::toggled, this, &WeatherCard::tell);
}

QSpinBox* WeatherCard::addNumber(const char* name, const QString& title, const QString& unit, int most,
                                 std::int64_t now) {
    auto* box = new QSpinBox;
    box->setObjectName(QLatin1String(name));
    box->setRange(0, most);
    box->setSuffix(unit);
    box->setValue(static_cast<int>(now));
    static_cast<QFormLayout*>(layout())->addRow(title, box);
    connect(box, &QSpinBox::valueChanged, this, &WeatherCard::tell);
    return box;
}

void WeatherCard::tell() {
    render::Weather weather;
    weather.latencyMs = latency_->value();
    weather.jitterMs = jitter_->value();
    weather.bytesPerSecond = std::int64_t{rate_->value()} * 1000;
    weather.lossShare = loss_->value() / 100.0;
    weather.failShare = failing_->value() / 100.0;
    weather.offline = offline_->isChecked();
    Q_EMIT weatherWanted(weather);
}

void WeatherCard::openAt(const QWidget& word) {
    adjustSize();
    QPoint at = word.mapToGlobal(QPoint(0, word.height() + 4));
    const QRect room = word.window()->frameGeometry();
    at.setX(std::max(room.left(), std::min(at.x(), room.right() - width() - 8)));
    move(at);
    show();
    latency_->setFocus();
    latency_->selectAll();
}

} // namespace scorrere::workbench

#include "moc_weather_card.cpp"
