// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/document/paging_spec.h"
#include "engine/document/source_spec.h"
#include "render/live_patch.h"
#include "render/weather.h"

#include <QObject>
#include <QThread>
#include <functional>
#include <memory>

namespace scorrere::render {

/// What the wire needs to know of a source.
struct WireSetup {
    SourceSpec source;
    std::function<Result<std::string>()> demoAddress; ///< called on the wire's thread; may block it
    std::optional<std::string> secret;
    std::string diskFile; ///< where pages are kept from run to run; empty: nowhere
    double diskMiB = 16;
    double diskDays = 7;
    std::vector<Field> fields; ///< of the collection: pages are made to fit
    Weather weather;
};

/// Whether changes come by the stream.
enum class LiveState : std::uint8_t { Off, Connecting, On, Waiting };

/// The one thread on which a collection's pages and live changes come: calls, weather, disk, decoding.
///
/// Ownership   Owns its thread; destruction drops every call, and waits at most for what is being decoded to
///             notice that.
/// Threads     The interface thread. Signals come there, in the order things happened.
/// Errors      Told by signals; the wire itself goes on.
class PageWire : public QObject {
    Q_OBJECT
public:
    explicit PageWire(WireSetup setup, QObject* parent = nullptr);
    ~PageWire() override;

    void ask(const PageCommand& command);
    void cancel(std::int64_t request);
    void setWeather(const Weather& weather);
    /// The address's variables are others from the next call on.
    void setVariables(const std::vector<std::pair<std::string, std::string>>& variables);
    void setFields(const std::vector<Field>& fields);
    /// Starts, or goes on with, the stream of changes: what was missed since is asked for.
    void openLive();
    void closeLive();
    /// Makes the changed records; liveMade tells. One batch at a time.
    void makeLive(std::vector<LiveChange> changes);

Q_SIGNALS:
    void answered(qint64 request, const std::shared_ptr<scorrere::PageAnswer>& answer);
    void failed(qint64 request, const scorrere::PageFailure& failure);
    /// What came by the stream since the last time, gathered for a frame.
    void liveCame(const std::shared_ptr<std::vector<scorrere::render::LiveChange>>& changes);
    void liveMade(const std::shared_ptr<std::vector<scorrere::render::LiveResult>>& results);
    void liveStateChanged(scorrere::render::LiveState state);
    /// Something worth knowing that stops nothing, as that pages cannot be kept on disk. Each once.
    void noticed(const scorrere::Error& error);

private:
    class Inside;
    QThread thread_;
    std::unique_ptr<Inside> inside_;
};

} // namespace scorrere::render
