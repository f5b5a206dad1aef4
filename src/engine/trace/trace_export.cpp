// SPDX-License-Identifier: Apache-2.0
#include "engine/trace/trace_export.h"

#include <fmt/format.h>
#include <iterator>

namespace scorrere {

std::string toTraceEventJson(const Trace& trace) {
    std::string out = "{\"displayTimeUnit\":\"ms\",\"traceEvents\":[\n";
    const auto sink = std::back_inserter(out);
    for (std::size_t i = 0; i < trace.size(); ++i) {
        const FrameRecord& frame = trace.at(i);
        fmt::format_to(
            sink,
            "{}{{\"name\":\"frame\",\"ph\":\"X\",\"pid\":1,\"tid\":1,\"ts\":{},\"dur\":{:.3f},\"args\":{{"
            "\"number\":{},\"first\":{},\"last\":{},\"offsetPx\":{:.3f},\"built\":{},\"filled\":{},"
            "\"filledAhead\":{},\"released\":{},\"jumpPx\":{:.3f},\"bounded\":{}}}}}",
            i == 0 ? "" : ",\n", frame.timeUs, static_cast<double>(frame.totalNs()) / 1e3, frame.number,
            frame.first, frame.last, frame.offset.toPx(), frame.built, frame.filled, frame.filledAhead,
            frame.released, frame.jump.toPx(), frame.bounded);
        double at = static_cast<double>(frame.timeUs);
        for (std::size_t p = 0; p < kPhases; ++p) {
            const double us = static_cast<double>(frame.costNs[p]) / 1e3;
            if (us > 0) {
                fmt::format_to(
                    sink,
                    ",\n{{\"name\":\"{}\",\"ph\":\"X\",\"pid\":1,\"tid\":1,\"ts\":{:.3f},\"dur\":{:.3f}}}",
                    phaseName(static_cast<Phase>(p)), at, us);
                at += us;
            }
        }
        fmt::format_to(sink,
                       ",\n{{\"name\":\"item views\",\"ph\":\"C\",\"pid\":1,\"ts\":{},\"args\":{{\"live\":{},"
                       "\"pooled\":{}}}}}",
                       frame.timeUs, frame.alive, frame.pooled);
    }
    out += "\n]}\n";
    return out;
}

std::string toCsv(const Trace& trace) {
    std::string out = "frame,time_us,offset_px,first,last,built,filled,filled_ahead,released,live,pooled,"
                      "misestimate_px,jump_px,bounded,decide_us,build_us,fill_us,measure_us,paint_us\r\n";
    const auto sink = std::back_inserter(out);
    for (std::size_t i = 0; i < trace.size(); ++i) {
        const FrameRecord& f = trace.at(i);
        fmt::format_to(sink, "{},{},{},{},{},{},{},{},{},{},{},{},{},{}", f.number, f.timeUs, f.offset.toPx(),
                       f.first, f.last, f.built, f.filled, f.filledAhead, f.released, f.alive, f.pooled,
                       f.misestimate.toPx(), f.jump.toPx(), f.bounded ? 1 : 0);
        for (const std::int64_t ns : f.costNs) {
            fmt::format_to(sink, ",{:.1f}", static_cast<double>(ns) / 1e3);
        }
        out += "\r\n";
    }
    return out;
}

} // namespace scorrere
