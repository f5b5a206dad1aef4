// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/opener.h"

#include "engine/record/json_outline.h"
#include "service/demo_document.h"
#include "workbench/model/plain_design.h"

#include <algorithm>
#include <chrono>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>

namespace scorrere::workbench {

namespace {

/// Whether a file is of records, by its name and its first bytes: a large one must not be read as a
/// collection first, only to find that it is none.
bool isRecords(const std::string& path) {
    constexpr std::size_t kLookedAt = 64 << 10;
    std::ifstream in(path, std::ios::binary);
    std::string start(kLookedAt, '\0');
    in.read(start.data(), static_cast<std::streamsize>(start.size()));
    start.resize(static_cast<std::size_t>(in.gcount()));
    return !path.ends_with(".collection.json") && !start.empty() &&
           start.find("\"scorrere\"") == std::string::npos;
}

struct Loaded {
    CollectionDocument document;
    bool isPlain = false;
};

/// The collection at a path; for a file of records, a document that only says where they are.
Result<Loaded> load(const std::string& path) {
    std::error_code failed;
    const auto status = std::filesystem::status(path, failed);
    const bool isSpecial = std::filesystem::exists(status) && !std::filesystem::is_regular_file(status) &&
                           !std::filesystem::is_directory(status);
    if (isSpecial) { // opening a pipe waits for somebody to write to it
        Error error{ErrorCode::Unreadable,
                    "this is a pipe or a device, not a file",
                    "Write what comes from it to a file, and open that.",
                    {}};
        error.place.file = path;
        return error;
    }
    if (!isRecords(path)) {
        auto document = CollectionDocument::load(path);
        if (!document) {
            return std::move(document.error());
        }
        return Loaded{std::move(*document), false};
    }
    Loaded loaded;
    loaded.isPlain = true;
    loaded.document.name = std::filesystem::path(path).stem().string();
    loaded.document.source.file = std::filesystem::absolute(path).string();
    return loaded;
}

SourceNeeds needsOf(const CollectionDocument& document, const std::shared_ptr<DemoService>& demo,
                    std::optional<std::string> secret, std::shared_ptr<const render::Access> access) {
    SourceNeeds needs;
    needs.access = std::move(access);
    needs.folder = document.folder();
    needs.demoAddress = [demo] { return demo->address(); };
    needs.secret = std::move(secret);
    return needs;
}

/// The document with a design that its fields can fill, if nobody wrote one.
Result<std::shared_ptr<Opened>> openedWith(const CollectionDocument& document, bool isPlain,
                                           std::shared_ptr<const RecordTable> records) {
    auto opened = std::make_shared<Opened>();
    opened->isPlain = isPlain;
    opened->document = document;
    if (isPlain) {
        auto plain = plainDocument(document.name, document.source, *records);
        if (!plain) {
            return std::move(plain.error());
        }
        plain->noun = document.noun;
        plain->window = document.window;
        plain->viewLead = document.viewLead;
        plain->paging = document.paging;
        opened->document = std::move(*plain);
    }
    opened->records = std::move(records);
    return opened;
}

/// Whether a headless run was told that the collection may reach this.
bool allows(const Allowance& allowance, const CollectionDocument& document, const Reach& reach) {
    const auto any = [](const std::vector<std::string>& given, auto matches) {
        return std::ranges::any_of(given, matches);
    };
    switch (reach.kind) {
    case Reach::Kind::Host:
        return any(allowance.hosts, [&](const std::string& host) {
            const QUrl url(QString::fromStdString(reach.what));
            return host == reach.what || host == url.host().toStdString() ||
                   host == url.authority().toStdString();
        });
    case Reach::Kind::AnyHost:
        return any(allowance.hosts, [](const std::string& host) { return host == "*"; });
    case Reach::Kind::Secret:
        return any(allowance.secrets, [&](const std::string& name) { return name == reach.what; });
    case Reach::Kind::File:
        return any(allowance.paths, [&](const std::string& path) {
            namespace fs = std::filesystem;
            const fs::path file = fs::weakly_canonical(fs::path(document.folder()) / reach.what);
            const fs::path inside = file.lexically_relative(fs::weakly_canonical(path));
            return !inside.empty() && *inside.begin() != "..";
        });
    }
    return false;
}

Error notAllowed(const CollectionDocument& document, const std::vector<Reach>& missing) {
    std::string what;
    std::string options;
    for (const Reach& one : missing) {
        what += (what.empty() ? "" : ", ") + one.words().toStdString();
        options += one.kind == Reach::Kind::Secret ? " --allow-secret " + one.what
                   : one.kind == Reach::Kind::File ? " --allow-path " + one.what
                                                   : " --allow-host '" + one.what + "'";
    }
    Error error{ErrorCode::Invalid,
                fmt::format("this collection {}, which nobody allowed", what),
                fmt::format("If you trust it, add{}.", options),
                {}};
    error.place.file = document.path;
    return error;
}

Result<Opened> openNow(const CollectionDocument& document, bool isPlain, const Allowance& allowance,
                       std::stop_token stop, const ReadProgressHandler& progress) {
    const bool isOwn = isPlain || document.path.empty();
    std::vector<Reach> missing;
    if (!isOwn) {
        std::ranges::copy_if(reachOf(document), std::back_inserter(missing),
                             [&](const Reach& one) { return !allows(allowance, document, one); });
        if (holdsRecordsBack(document, missing)) {
            return notAllowed(document, missing);
        }
    }
    const auto access = accessOf(document, isOwn, missing);
    const auto demo = std::make_shared<DemoService>();
    auto secret = secretInEnvironment(document.source.sign.secret);
    if (!secret && document.source.sign.secret == DemoService::kTokenName) {
        secret = DemoService::kToken;
    }
    SourceHandlers handlers;
    handlers.progress = progress;
    auto read =
        readSource(document.source, needsOf(document, demo, secret, access), std::move(stop), handlers);
    if (!read) {
        return std::move(read.error());
    }
    auto opened = openedWith(document, isPlain, read->records);
    if (!opened) {
        return std::move(opened.error());
    }
    (*opened)->secret = std::move(secret);
    (*opened)->isOwn = isOwn;
    (*opened)->missing = std::move(missing);
    (*opened)->access = access;
    return std::move(**opened);
}

/// Lets a worker speak at most every 50 ms: the interface cannot show more.
class Seldom {
public:
    bool isTime() {
        const auto now = std::chrono::steady_clock::now();
        if (now - told_ < std::chrono::milliseconds(50)) {
            return false;
        }
        told_ = now;
        return true;
    }

private:
    std::chrono::steady_clock::time_point told_{};
};

} // namespace

Result<Opened> openCollection(const std::string& path, const Allowance& allowance, std::stop_token stop,
                              const ReadProgressHandler& progress) {
    auto loaded = load(path);
    if (!loaded) {
        return std::move(loaded.error());
    }
    return openNow(loaded->document, loaded->isPlain, allowance, std::move(stop), progress);
}

Result<Opened> openDemo(std::int64_t count, std::stop_token stop, const ReadProgressHandler& progress) {
    auto document = CollectionDocument::parse(service::demoDocument(count), "");
    if (!document) {
        return std::move(document.error());
    }
    return openNow(*document, false, {}, std::move(stop), progress);
}

QString sampleList() {
    return QObject::tr("first\nsecond\nthird");
}

void Opener::start(const OpenWish& wish) {
    stop();
    ++openings_;
    shown_ = wish.isAgain;
    if (wish.document) {
        return ask(wish);
    }
    load_.start([path = wish.path](std::stop_token, const render::Job::Post&) { return load(path); },
                [this](Result<Loaded> loaded) {
                    if (loaded) {
                        OpenWish read;
                        read.isOwn = loaded->isPlain || trust_.isOwn(loaded->document);
                        read.isPlain = loaded->isPlain;
                        read.document = std::move(loaded->document);
                        ask(read);
                    } else {
                        Q_EMIT failed(loaded.error());
                    }
                });
}

/// Nothing is read that the collection has to be allowed first.
void Opener::ask(const OpenWish& wish) {
    if (!holdsRecordsBack(*wish.document, trust_.missing(*wish.document, wish.isOwn, wish.allowed))) {
        return findSecret(wish);
    }
    if (!shown_) {
        if (auto opened = openedWith(*wish.document, wish.isPlain, std::make_shared<const RecordTable>())) {
            reach(wish, **opened);
            took(*opened);
        }
    }
    Q_EMIT reachMissing();
}

void Opener::reach(const OpenWish& wish, Opened& opened) const {
    opened.isOwn = wish.isOwn;
    opened.allowed = wish.allowed;
    opened.missing = trust_.missing(*wish.document, wish.isOwn, wish.allowed);
    opened.access = accessOf(*wish.document, wish.isOwn, opened.missing);
}

void Opener::findSecret(const OpenWish& wish) {
    const SourceSpec& source = wish.document->source;
    const std::string name = source.sign.secret;
    if (source.sign.kind == SignSpec::Kind::None || name.empty()) {
        return readWith(wish, std::nullopt);
    }
    if (source.address.starts_with("demo:/") && name == DemoService::kTokenName) {
        return readWith(wish, DemoService::kToken);
    }
    waiting_ = true;
    secrets_.find(name, [this, number = openings_, wish, name](std::optional<std::string> secret) {
        if (number != openings_ || !waiting_) {
            return; // another wish came meanwhile
        }
        waiting_ = false;
        if (secret) {
            return readWith(wish, std::move(secret));
        }
        unsigned_ = wish;
        openEmpty(wish, std::nullopt);
        unsigned_->isAgain = true;
        Q_EMIT secretMissing(QString::fromStdString(name));
    });
}

/// A service's collection is there even while its records are not.
void Opener::openEmpty(const OpenWish& wish, const std::optional<std::string>& secret) {
    if (shown_ || !wish.document->source.isService()) {
        return;
    }
    if (auto opened = openedWith(*wish.document, wish.isPlain, std::make_shared<const RecordTable>())) {
        (*opened)->secret = secret;
        reach(wish, **opened);
        took(*opened);
    }
}

void Opener::readWith(const OpenWish& wish, std::optional<std::string> secret) {
    Opened like;
    reach(wish, like);
    if (secret) {
        trust_.used(*wish.document);
    }
    job_.start(
        [this, like, document = *wish.document, isPlain = wish.isPlain, demo = demo_,
         secret](std::stop_token stop, const render::Job::Post& post) -> Result<std::shared_ptr<SourceRead>> {
            Seldom seldom;
            bool first = true;
            SourceHandlers handlers;
            handlers.progress = [&](const ReadProgress& progress) {
                if (seldom.isTime()) {
                    post([this, progress] { Q_EMIT progressed(progress); });
                }
            };
            handlers.answered = [&](const Answer& answer) {
                post([this, copy = std::make_shared<const Answer>(answer)] { Q_EMIT answered(copy); });
            };
            std::shared_ptr<const render::FirstAnswer> firstAnswer;
            handlers.fetched = [&](std::shared_ptr<const render::FirstAnswer> came) {
                firstAnswer = std::move(came);
            };
            const auto show = [&](std::shared_ptr<const RecordTable> records, bool last) -> Outcome {
                if (!first) {
                    post([this, records = std::move(records), last] { Q_EMIT grew(records, last); });
                    return done();
                }
                auto opened = openedWith(document, isPlain, std::move(records));
                if (!opened) {
                    return std::move(opened.error());
                }
                (*opened)->secret = secret;
                (*opened)->first = firstAnswer;
                (*opened)->isOwn = like.isOwn;
                (*opened)->allowed = like.allowed;
                (*opened)->missing = like.missing;
                (*opened)->access = like.access;
                first = false;
                post([this, opened = *opened, last] {
                    took(opened);
                    if (last && job_.isBusy()) { // unless it was refused
                        Q_EMIT grew(opened->records, true);
                    }
                });
                return done();
            };
            handlers.grown = [&](const RecordTable& records) {
                (void)bool(show(std::make_shared<const RecordTable>(records), false));
            };
            auto read =
                readSource(document.source, needsOf(document, demo, secret, like.access), stop, handlers);
            if (!read) {
                return std::move(read.error());
            }
            if (Outcome shown = show(read->records, true); !shown) {
                return std::move(shown.error());
            }
            return std::make_shared<SourceRead>(std::move(*read));
        },
        [this, wish, secret, key = wish.document->source.key](Result<std::shared_ptr<SourceRead>> result) {
            if (!result) {
                if (result.error().code != ErrorCode::Cancelled) {
                    openEmpty(wish, secret);
                    Q_EMIT failed(result.error());
                }
                return;
            }
            Q_EMIT finished(*result);
            examiner_.look((*result)->records, key);
        });
}

void Opener::took(const std::shared_ptr<Opened>& opened) {
    shown_ = true;
    Q_EMIT this->opened(opened);
}

void Opener::open(const QString& path) {
    OpenWish wish;
    wish.path = path.toStdString();
    start(wish);
}

void Opener::openDemo(const std::string& text) {
    auto document = CollectionDocument::parse(text, "");
    OpenWish wish;
    wish.document = std::move(document.value());
    start(wish);
}

void Opener::openList(const QString& text) {
    CollectionDocument document;
    document.name = tr("A list").toStdString();
    document.source.list = text.toStdString();
    OpenWish wish;
    wish.document = std::move(document);
    wish.isPlain = true;
    start(wish);
}

void Opener::read(const OpenWish& wish) {
    start(wish);
}

void Opener::readAgain(const Opened& shown) {
    OpenWish wish;
    wish.document = shown.document;
    wish.isPlain = shown.isPlain;
    wish.isAgain = true;
    wish.isOwn = shown.isOwn;
    wish.allowed = shown.allowed;
    start(wish);
}

void Opener::retry() {
    if (unsigned_) {
        start(*std::exchange(unsigned_, std::nullopt));
    }
}

void Opener::stop() {
    load_.cancel();
    job_.cancel();
    examiner_.drop();
    waiting_ = false;
}

void Opener::cancel() {
    const bool busy = isBusy();
    stop();
    if (busy) {
        Q_EMIT cancelled();
    }
}

} // namespace scorrere::workbench

#include "moc_opener.cpp"
