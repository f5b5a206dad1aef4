// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/record/field_profile.h"
#include "render/page_wire.h"
#include "workbench/model/answer.h"

#include <functional>
#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// What a source says it is, as one call or one file; secrets are shown by their names.
struct CallPreview {
    std::string method;  ///< "GET", "read", "make"
    std::string address; ///< with its variables filled in
    render::HttpHeaders headers;
    std::vector<std::string> variables; ///< the names in the address
    std::optional<Error> problem;       ///< why it cannot be sent as it is
};

/// What reading needs from outside.
struct SourceNeeds {
    std::string folder;                               ///< that relative files start from
    std::function<Result<std::string>()> demoAddress; ///< starts the demo service if it must
    std::string knownDemoAddress;                     ///< where it is already, for showing; may be empty
    std::optional<std::string> secret;                ///< the one the source signs with, if it was found
    std::shared_ptr<const render::Access> access;     ///< where calls may go; null: anywhere
};

struct SourceHandlers {
    ReadProgressHandler progress;
    std::function<void(const Answer&)>
        answered; ///< as soon as something came back, even if it cannot be read
    std::function<void(const RecordTable&)> grown;
    /// A service's answer as a whole, before it is read; without the secret if it echoes it.
    std::function<void(std::shared_ptr<const render::FirstAnswer>)> fetched;
};

/// Records as read, with everything about where they came from.
struct SourceRead {
    std::shared_ptr<const RecordTable> records;
    Reading reading;                   ///< without the records
    std::vector<std::string> tables;   ///< SQLite: the ones to choose from
    std::vector<std::string> elements; ///< XML: the paths to choose from
    Answer answer;
};

/// The call that reading the source makes. Cheap.
CallPreview previewCall(const SourceSpec& source, const SourceNeeds& needs);

/// Reads a source, whatever it is. Blocks: for workers. Errors: located, with what to do.
Result<SourceRead> readSource(const SourceSpec& source, const SourceNeeds& needs, std::stop_token stop,
                              const SourceHandlers& handlers);

/// What the records are like, and what is wrong with them.
struct Examination {
    std::vector<FieldProfile> profiles;
    std::vector<KeyCandidate> candidates;
    std::vector<std::string> key; ///< the source's, or the likeliest candidate
    bool keyIsProposed = false;
    std::optional<KeyCheck> check;
    std::optional<KeyCheck> nearly; ///< of a field that is called like a key and is none
};

/// Looks at every value. Blocks: for workers. `far`: told how far it is, about.
Result<Examination> examine(const RecordTable& records, const std::vector<std::string>& key,
                            std::stop_token stop, const ShareHandler& far = nullptr);

/// One line of what is wrong, with a way to see it and perhaps to mend it.
struct SourceFinding {
    enum class Mend { Nothing, UndoDoubleDecoding, ReadAsUtf8, ReadInPages };
    std::string text;
    std::string advice;
    std::int64_t count = 1;
    std::vector<std::int64_t> records; ///< those to look at, the first 1,000
    std::int64_t line = 0;
    std::string field;
    bool isWarning = true; ///< else it is only worth knowing
    Mend mend = Mend::Nothing;
};

/// `isPaged`: it is read in pages already.
std::vector<SourceFinding> sourceFindings(const Reading& reading, const Answer& answer,
                                          const Examination* examination, bool isPaged);

} // namespace scorrere::workbench
