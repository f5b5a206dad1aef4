// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/document/paging_spec.h"
#include "engine/document/send_spec.h"
#include "engine/document/source_spec.h"
#include "render/http_call.h"
#include "render/stream_patch.h"
#include "render/weather.h"
#include "render/web_address.h"

#include <QObject>
#include <functional>
#include <memory>

namespace scorrere::render {

/// An answer that came already, when the source was read the first time: its page need not be asked for
/// again.
struct FirstAnswer {
    std::string asked; ///< the address as it was asked
    HttpAnswer answer;
    std::int64_t atMs = 0; ///< since 1970
};

/// What the wire needs to know of a source.
struct WireSetup {
    SourceSpec source;
    std::function<Result<std::string>()> demoAddress; ///< called on the wire's thread; may block it
    std::optional<std::string> secret;
    std::shared_ptr<const FirstAnswer> first; ///< null: none, or too old
    std::shared_ptr<const Access> access;     ///< where its calls may go; null: anywhere
    std::string diskFile;                     ///< where pages are kept from run to run; empty: nowhere
    double diskMiB = 16;
    double diskDays = 7;
    std::vector<Field> fields; ///< of the collection: pages are made to fit
    Weather weather;
};

/// What became of an edit that was sent.
struct SendOutcome {
    enum class Kind : std::uint8_t {
        Agreed,
        Refused, ///< it will not be otherwise another time
        NotSent, ///< nobody can tell: another try may bring it
    };
    Kind kind = Kind::Agreed;
    Error error; ///< why not
};

/// Whether changes come by the stream.
enum class StreamState : std::uint8_t { Off, Connecting, On, Waiting };

/// The one thread on which a collection's pages and live changes come: calls, weather, disk, decoding.
///
/// Ownership   Its thread is its own; destruction drops every call and waits for nothing: the thread ends by
///             itself once what is being decoded has noticed.
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
    void openStream();
    void closeStream();
    /// Makes the changed records; streamMade tells. One batch at a time.
    void makeStreamed(std::vector<StreamChange> changes);
    /// Tells the service of an edit; sent() says what it answered.
    void send(qint64 number, EditRequest request);

Q_SIGNALS:
    void answered(qint64 request, const std::shared_ptr<scorrere::PageAnswer>& answer);
    void failed(qint64 request, const scorrere::PageFailure& failure);
    /// What came by the stream since the last time, gathered for a frame.
    void streamCame(const std::shared_ptr<std::vector<scorrere::render::StreamChange>>& changes);
    /// So many changes came faster than they could be handed on, and were dropped.
    void streamLost(qint64 changes);
    void streamMade(const std::shared_ptr<std::vector<scorrere::render::StreamResult>>& results);
    void sent(qint64 number, const scorrere::render::SendOutcome& outcome);
    void streamStateChanged(scorrere::render::StreamState state);
    /// Something worth knowing that stops nothing, as that pages cannot be kept on disk. Each once.
    void noticed(const scorrere::Error& error);

private:
    class Inside;
    /// How what the thread tells finds the wire while there is one. The interface thread's alone.
    struct Link {
        PageWire* face = nullptr;
    };
    void onWire(std::function<void()> call);
    std::shared_ptr<Link> link_;
    Inside* inside_; ///< lives on its thread, and goes when that ends
};

} // namespace scorrere::render
