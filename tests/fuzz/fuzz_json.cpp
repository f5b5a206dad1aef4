// SPDX-License-Identifier: GPL-3.0-or-later
#include "fuzz.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    return readAnything(data, size, scorrere::SourceForm::Json);
}
