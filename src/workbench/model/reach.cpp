// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/reach.h"

#include "render/source_call.h"
#include "workbench/model/hard_records.h"

#include <QCryptographicHash>
#include <QObject>
#include <QStringList>
#include <algorithm>
#include <filesystem>

namespace scorrere::workbench {

namespace {

constexpr int kMostRemembered = 500;

/// Where an address leads as it stands, its variables filled in; empty: nowhere, or to the demo service.
std::string originOfTemplate(const std::string& address, const SourceSpec& source) {
    if (address.empty() || address.starts_with(render::kDemoScheme)) {
        return {};
    }
    const auto expanded = render::expandedAddress(address, render::sourceVariables(source), {});
    return render::originOf(expanded ? *expanded : address.substr(0, address.find('{')));
}

void add(std::vector<Reach>& reach, Reach one) {
    if (!one.what.empty() && std::ranges::find(reach, one) == reach.end()) {
        reach.push_back(std::move(one));
    }
}

/// The hosts that pictures name. An address that begins with a field can name any.
void addPictures(std::vector<Reach>& reach, const PartSpec& part, const std::string& own) {
    if (part.type == PartType::Picture && !part.binding.empty()) {
        const std::string fixed = part.binding.substr(0, part.binding.find('{'));
        if (const std::string origin = render::originOf(fixed); !origin.empty()) {
            // "https://a{field}" goes wherever the field makes it go.
            const bool isWholeHost = fixed.find('/', fixed.find("://") + 3) != std::string::npos ||
                                     fixed.size() == part.binding.size();
            add(reach,
                isWholeHost ? Reach{Reach::Kind::Host, origin, {}} : Reach{Reach::Kind::AnyHost, "*", {}});
        } else if (fixed.empty() || fixed.find("://") != std::string::npos || fixed.starts_with("//") ||
                   std::string_view("https://").starts_with(fixed)) {
            add(reach, {Reach::Kind::AnyHost, "*", {}});
        } else {
            add(reach, {Reach::Kind::Host, own, {}}); // relative to the source
        }
    }
    for (const PartSpec& child : part.children) {
        addPictures(reach, child, own);
    }
}

bool isOutside(const CollectionDocument& document) {
    namespace fs = std::filesystem;
    std::error_code failed;
    const fs::path folder = fs::weakly_canonical(fs::absolute(document.folder()), failed);
    const fs::path file = fs::weakly_canonical(folder / document.source.file, failed);
    const fs::path inside = file.lexically_relative(folder);
    return inside.empty() || *inside.begin() == "..";
}

QString keyOf(const CollectionDocument& document) {
    QCryptographicHash hash(QCryptographicHash::Sha256);
    hash.addData(QByteArray::fromStdString(std::filesystem::absolute(document.path).string()));
    hash.addData(QByteArrayView("\n"));
    hash.addData(QByteArray::fromStdString(document.serialise()));
    return QString::fromLatin1(hash.result().toHex());
}

QString lineOf(const Reach& reach) {
    return QStringLiteral("%1 %2 %3")
        .arg(static_cast<int>(reach.kind))
        .arg(QString::fromStdString(reach.what), QString::fromStdString(reach.origin));
}

const QString kAllowed = QStringLiteral("allowed");
const QString kOwn = QStringLiteral("own");
const QString kSecrets = QStringLiteral("secretOrigins/");

} // namespace

QString Reach::words() const {
    const QString name = QString::fromStdString(what);
    switch (kind) {
    case Kind::Host:
        return QObject::tr("asks %1").arg(name);
    case Kind::AnyHost:
        return QObject::tr("asks whatever hosts its records name, for pictures");
    case Kind::Secret:
        return QObject::tr("tells the secret %1 to %2").arg(name, QString::fromStdString(origin));
    case Kind::File:
        return QObject::tr("reads %1").arg(name);
    }
    return {};
}

std::string originOf(const SourceSpec& source) {
    return originOfTemplate(source.address, source);
}

std::vector<Reach> reachOf(const CollectionDocument& document) {
    std::vector<Reach> reach;
    const SourceSpec& source = document.source;
    const std::string own = originOf(source);
    add(reach, {Reach::Kind::Host, own, {}});
    add(reach, {Reach::Kind::Host, originOfTemplate(source.stream.address, source), {}});
    for (const SendRule* rule : {&document.send.set, &document.send.insert, &document.send.remove}) {
        add(reach, {Reach::Kind::Host, originOfTemplate(rule->address, source), {}});
    }
    for (const auto& [name, action] : document.actions) {
        for (const ActionStep& step : action.steps) {
            add(reach, {Reach::Kind::Host, originOfTemplate(step.call.address, source), {}});
        }
    }
    if (source.sign.kind != SignSpec::Kind::None && !own.empty()) {
        add(reach, {Reach::Kind::Secret, source.sign.secret, own});
    }
    if (!source.file.empty() && !document.path.empty() && isOutside(document)) {
        add(reach, {Reach::Kind::File, source.file, {}});
    }
    std::vector<const PartSpec*> designs = designsIn(document);
    for (const auto& state : document.states) {
        if (state) {
            designs.push_back(state.get());
        }
    }
    if (!source.isDemo && !source.address.starts_with(render::kDemoScheme)) {
        for (const PartSpec* design : designs) {
            addPictures(reach, *design, own);
        }
    }
    return reach;
}

QString reachInWords(const std::vector<Reach>& reach) {
    const auto count = [&](Reach::Kind kind) {
        return static_cast<int>(std::ranges::count(reach, kind, &Reach::kind));
    };
    QStringList parts;
    if (const int hosts = count(Reach::Kind::Host); hosts > 0) {
        parts << (hosts == 1 ? QObject::tr("1 host") : QObject::tr("%1 hosts").arg(hosts));
    }
    if (count(Reach::Kind::AnyHost) > 0) {
        parts << QObject::tr("any host its records name");
    }
    if (const int secrets = count(Reach::Kind::Secret); secrets > 0) {
        parts << (secrets == 1 ? QObject::tr("1 secret") : QObject::tr("%1 secrets").arg(secrets));
    }
    if (const int files = count(Reach::Kind::File); files > 0) {
        parts << (files == 1 ? QObject::tr("1 file outside its folder")
                             : QObject::tr("%1 files outside its folder").arg(files));
    }
    return parts.join(QStringLiteral(", "));
}

bool Trust::isOwn(const CollectionDocument& document) const {
    return settings_.value(QStringLiteral("trust/") + keyOf(document)).toStringList().contains(kOwn);
}

bool Trust::isBound(const std::string& name, const std::string& origin, bool& any) const {
    const QStringList origins = settings_.value(kSecrets + QString::fromStdString(name)).toStringList();
    any = !origins.isEmpty();
    return origins.contains(QString::fromStdString(origin));
}

void Trust::bind(const std::string& name, const std::string& origin) {
    const QString key = kSecrets + QString::fromStdString(name);
    QStringList origins = settings_.value(key).toStringList();
    if (!origins.contains(QString::fromStdString(origin))) {
        origins << QString::fromStdString(origin);
        settings_.setValue(key, origins);
    }
}

std::vector<Reach> Trust::missing(const CollectionDocument& document, bool isOwn,
                                  const std::vector<Reach>& allowed) const {
    const QStringList remembered =
        document.path.empty() ? QStringList()
                              : settings_.value(QStringLiteral("trust/") + keyOf(document)).toStringList();
    std::vector<Reach> missing;
    for (const Reach& one : reachOf(document)) {
        const bool isAllowed =
            std::ranges::find(allowed, one) != allowed.end() || remembered.contains(lineOf(one));
        if (one.kind == Reach::Kind::Secret && isOwn && !isAllowed) {
            bool any = false;
            if (!isBound(one.what, one.origin, any) && any) { // it was given for another
                missing.push_back(one);
            }
        } else if (!isOwn && !isAllowed) {
            missing.push_back(one);
        }
    }
    return missing;
}

void Trust::allow(const CollectionDocument& document, const std::vector<Reach>& reach) {
    for (const Reach& one : reach) {
        if (one.kind == Reach::Kind::Secret) {
            bind(one.what, one.origin);
        }
    }
    if (document.path.empty()) {
        return;
    }
    const QString key = QStringLiteral("trust/") + keyOf(document);
    QStringList lines = settings_.value(key).toStringList();
    lines.removeAll(QString());
    for (const Reach& one : reach) {
        if (!lines.contains(lineOf(one))) {
            lines << lineOf(one);
        }
    }
    settings_.setValue(key, lines);
    QStringList order = settings_.value(kAllowed).toStringList();
    order.removeAll(key);
    order.prepend(key);
    while (order.size() > kMostRemembered) {
        settings_.remove(order.takeLast());
    }
    settings_.setValue(kAllowed, order);
}

void Trust::wrote(const CollectionDocument& document, bool isOwn, const std::vector<Reach>& allowed) {
    allow(document, allowed);
    if (isOwn) {
        const QString key = QStringLiteral("trust/") + keyOf(document);
        QStringList lines = settings_.value(key).toStringList();
        if (!lines.contains(kOwn)) {
            lines << kOwn;
        }
        settings_.setValue(key, lines);
    }
}

void Trust::used(const CollectionDocument& document) {
    for (const Reach& one : reachOf(document)) {
        if (one.kind == Reach::Kind::Secret) {
            bind(one.what, one.origin);
        }
    }
}

std::shared_ptr<const render::Access> accessOf(const CollectionDocument& document, bool isOwn,
                                               const std::vector<Reach>& missing) {
    auto access = std::make_shared<render::Access>();
    if (isOwn) {
        return access;
    }
    access->anyHost = false;
    for (const Reach& one : reachOf(document)) {
        if (std::ranges::find(missing, one) != missing.end()) {
            continue;
        }
        access->anyHost = access->anyHost || one.kind == Reach::Kind::AnyHost;
        if (one.kind == Reach::Kind::Host) {
            access->origins.push_back(one.what);
        }
    }
    return access;
}

bool holdsRecordsBack(const CollectionDocument& document, const std::vector<Reach>& missing) {
    const std::string own = originOf(document.source);
    return std::ranges::any_of(missing, [&own](const Reach& one) {
        return one.kind == Reach::Kind::File || one.kind == Reach::Kind::Secret ||
               (one.kind == Reach::Kind::Host && one.what == own);
    });
}

} // namespace scorrere::workbench
