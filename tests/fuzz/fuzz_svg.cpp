// SPDX-License-Identifier: GPL-3.0-or-later
//
// A picture as a server sent it: decoded, or refused, and nothing outside it asked for.
#include "render/picture_source.h"

#include <QGuiApplication>
#include <cstdint>
#include <cstdlib>

extern "C" int LLVMFuzzerInitialize(int*, char***) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    static int count = 1;
    static char name[] = "fuzz_svg";
    static char* arguments[] = {name, nullptr};
    static const auto* app = new QGuiApplication(count, arguments); // for fonts; as long as the process
    return app == nullptr ? 1 : 0;
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace scorrere::render;
    const QByteArray bytes(reinterpret_cast<const char*>(data), static_cast<qsizetype>(size));
    const auto picture = decodePicture(bytes, QStringLiteral("fuzz"), {16, 16});
    return picture || !picture.error().message.empty() ? 0 : (std::abort(), 0);
}
