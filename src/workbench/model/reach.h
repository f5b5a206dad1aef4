// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"
#include "render/web_address.h"

#include <QSettings>
#include <QString>
#include <memory>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// Something beyond its own folder that a collection asks for.
struct Reach {
    enum class Kind : std::uint8_t {
        Host,    ///< calls go there
        AnyHost, ///< pictures may come from wherever its records say
        Secret,  ///< signs calls with it
        File,    ///< reads it
    };
    Kind kind = Kind::Host;
    std::string what;   ///< Host: its origin. Secret: its name. File: its path
    std::string origin; ///< Secret: who is told it
    bool operator==(const Reach&) const = default;
    /// As a line people read.
    QString words() const;
};

/// Whom a source's own calls go to as it stands, its variables filled in; empty: no service, or the demo's.
std::string originOf(const SourceSpec& source);
/// All that a collection asks for beyond its own folder.
std::vector<Reach> reachOf(const CollectionDocument& document);
/// "2 hosts, 1 secret, 1 file outside its folder".
QString reachInWords(const std::vector<Reach>& reach);

/// Remembers what people allowed: for a collection by its path and content, for a secret by who may be told
/// it. A collection that was written here may ask for what it says; one from elsewhere asks for nothing
/// before it is allowed.
///
/// Threads     The interface thread.
class Trust {
public:
    explicit Trust(QSettings& settings) : settings_(settings) {}

    /// Whether this file, as it is, was written by this program here.
    bool isOwn(const CollectionDocument& document) const;
    /// What of its reach is not allowed. `isOwn`: the people before the screen wrote it, or typed it.
    std::vector<Reach> missing(const CollectionDocument& document, bool isOwn,
                               const std::vector<Reach>& allowed) const;
    void allow(const CollectionDocument& document, const std::vector<Reach>& reach);
    /// The file was written here just now.
    void wrote(const CollectionDocument& document, bool isOwn, const std::vector<Reach>& allowed);
    /// A secret is told to its source: from now on it is bound to that.
    void used(const CollectionDocument& document);

private:
    bool isBound(const std::string& name, const std::string& origin, bool& any) const;
    void bind(const std::string& name, const std::string& origin);

    QSettings& settings_;
};

/// Where the calls of a collection may go, by what is allowed.
std::shared_ptr<const render::Access> accessOf(const CollectionDocument& document, bool isOwn,
                                               const std::vector<Reach>& missing);
/// Whether its records cannot be read before this is allowed.
bool holdsRecordsBack(const CollectionDocument& document, const std::vector<Reach>& missing);

} // namespace scorrere::workbench
