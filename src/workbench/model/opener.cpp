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

SourceNeeds needsOf(const CollectionDocument& document, DemoService& demo,
                    std::optional<std::string> secret) {
    SourceNeeds needs;
    needs.folder = document.folder();
    needs.demoAddress = [&demo] { return demo.address(); };
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

Result<Opened> openNow(const CollectionDocument& document, bool isPlain, std::stop_token stop,
                       const ReadProgressHandler& progress) {
    DemoService demo;
    auto secret = secretInEnvironment(document.source.sign.secret);
    if (!secret && document.source.sign.secret == DemoService::kTokenName) {
        secret = DemoService::kToken;
    }
    SourceHandlers handlers;
    handlers.progress = progress;
    auto read = readSource(document.source, needsOf(document, demo, secret), std::move(stop), handlers);
    if (!read) {
        return std::move(read.error());
    }
    auto opened = openedWith(document, isPlain, read->records);
    if (!opened) {
        return std::move(opened.error());
    }
    (*opened)->secret = std::move(secret);
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

Result<Opened> openCollection(const std::string& path, std::stop_token stop,
                              const ReadProgressHandler& progress) {
    auto loaded = load(path);
    if (!loaded) {
        return std::move(loaded.error());
    }
    return openNow(loaded->document, loaded->isPlain, std::move(stop), progress);
}

Result<Opened> openDemo(std::int64_t count, std::stop_token stop, const ReadProgressHandler& progress) {
    auto document = CollectionDocument::parse(service::demoDocument(count), "");
    if (!document) {
        return std::move(document.error());
    }
    return openNow(*document, false, std::move(stop), progress);
}

void Opener::start(OpenWish wish) {
    stop();
    ++wishes_;
    shown_ = wish.isAgain;
    if (wish.document) {
        return findSecret(wish);
    }
    load_.start([path = wish.path](std::stop_token, const render::Job::Post&) { return load(path); },
                [this](Result<Loaded> loaded) {
                    if (loaded) {
                        findSecret({{}, std::move(loaded->document), loaded->isPlain, false});
                    } else {
                        Q_EMIT failed(loaded.error());
                    }
                });
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
    secrets_.find(name, [this, number = wishes_, wish, name](std::optional<std::string> secret) {
        if (number != wishes_ || !waiting_) {
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
        took(*opened);
    }
}

void Opener::readWith(const OpenWish& wish, std::optional<std::string> secret) {
    job_.start(
        [this, document = *wish.document, isPlain = wish.isPlain,
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
            auto read = readSource(document.source, needsOf(document, demo_, secret), stop, handlers);
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
            examine((*result)->records, key);
        });
}

void Opener::took(std::shared_ptr<Opened> opened) {
    shown_ = true;
    Q_EMIT this->opened(opened);
}

void Opener::examine(std::shared_ptr<const RecordTable> records, const std::vector<std::string>& key) {
    examining_.start(
        [records = std::move(records), key](std::stop_token stop, const render::Job::Post&) {
            return workbench::examine(*records, key, stop);
        },
        [this](Result<Examination> examination) {
            if (examination) {
                Q_EMIT examined(std::make_shared<Examination>(std::move(*examination)));
            }
        });
}

void Opener::open(const QString& path) {
    start({path.toStdString(), std::nullopt, false, false});
}

void Opener::openDemo(qint64 count) {
    auto document = CollectionDocument::parse(service::demoDocument(count), "");
    start({{}, std::move(document.value()), false, false});
}

void Opener::openDemoService() {
    auto document = CollectionDocument::parse(service::demoServiceDocument(), "");
    start({{}, std::move(document.value()), false, false});
}

void Opener::openList(const QString& text) {
    CollectionDocument document;
    document.name = tr("A list").toStdString();
    document.source.list = text.toStdString();
    start({{}, std::move(document), true, false});
}

void Opener::read(const CollectionDocument& document, bool isPlain, bool isAgain) {
    start({{}, document, isPlain, isAgain});
}

void Opener::retry() {
    if (unsigned_) {
        start(*std::exchange(unsigned_, std::nullopt));
    }
}

void Opener::stop() {
    load_.cancel();
    job_.cancel();
    examining_.cancel();
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
