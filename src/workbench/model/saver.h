// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"
#include "render/job.h"

#include <deque>
#include <functional>
#include <optional>
#include <string>

namespace scorrere::workbench {

/// A document, and where it is to be written.
struct SaveWish {
    CollectionDocument document;
    std::string path;
    bool overTheirs = false; ///< also over what another program wrote meanwhile
};

/// Writes documents on a worker, one after the other: a disk may take its time.
///
/// Ownership   Dropped with its owner: what a worker has begun it writes to its end, the rest is not written.
/// Threads     The interface thread.
class Saver {
public:
    using Wish = std::function<std::optional<SaveWish>()>;
    using Done = std::function<void(Result<CollectionDocument>)>;
    /// `wish` is asked when its turn comes, after what was saved before is known; nothing: it is not wanted
    /// any more, and `done` is told of an Unwritable error.
    void save(Wish wish, Done done);

private:
    void next();
    struct Turn {
        Wish wish;
        Done done;
    };
    std::deque<Turn> turns_; ///< the first is under way
    render::Job job_;
};

} // namespace scorrere::workbench
