// SPDX-License-Identifier: GPL-3.0-or-later
#include "service/moths.h"

#include <array>
#include <chrono>
#include <fmt/format.h>

namespace scorrere::service {

namespace {

/// SplitMix64 (Steele, Lea and Flood, 2014): a stream of well-mixed numbers from any start.
class Dice {
public:
    explicit Dice(std::uint64_t start) : state_(start) {}
    std::uint64_t next() {
        std::uint64_t z = (state_ += 0x9e3779b97f4a7c15ull);
        z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ull;
        z = (z ^ (z >> 27)) * 0x94d049bb133111ebull;
        return z ^ (z >> 31);
    }
    std::size_t below(std::size_t n) { return static_cast<std::size_t>(next() % n); }
    template <std::size_t N>
    std::string_view pick(const std::array<std::string_view, N>& from) {
        return from[below(N)];
    }

private:
    std::uint64_t state_;
};

constexpr std::array<std::string_view, 18> kFirst{
    "Copper", "Pale",  "Ashen", "Marsh",   "Night-blue", "Twice-barred", "Lesser", "Great",  "Dusky",
    "Silver", "Amber", "Mossy", "Lantern", "Hooded",     "Reed",         "Quiet",  "Ringed", "Éloise’s grey"};
constexpr std::array<std::string_view, 16> kSecond{
    "sedge-wing", "cartographer", "lantern", "harlequin", "wainscot", "footman", "drifter", "chevron",
    "plume",      "rustic",       "thorn",   "sallow",    "carpet",   "veil",    "tussock", "quaker"};
constexpr std::array<std::string_view, 4> kGreek{"Λευκή νύχτα", "Χάλκινη καλαμιά", "Μικρό φανάρι",
                                                 "Σκιά του βάλτου"};
constexpr std::array<std::string_view, 4> kArabic{"عثة القصب", "فانوس المستنقع", "جناح النحاس", "ظل الليل"};
constexpr std::array<std::string_view, 4> kJapanese{"ヨシノコヤガ", "ヌマベニシタ", "アケボノシロガ",
                                                    "ツキカゲヒトリ"};
constexpr std::array<std::string_view, 8> kSites{"Reed bank",  "Alder bridge", "Salt gate",   "Old sluice",
                                                 "North dyke", "Willow pool",  "Heron stage", "Peat cutting"};
constexpr std::array<std::string_view, 12> kTraits{"worn",       "fresh",     "female",  "male",
                                                   "egg-laying", "new moon",  "sheet",   "warm front",
                                                   "rain",       "very dark", "melanic", "on sugar"};
constexpr std::array<std::string_view, 20> kLatin{
    "Came to light just after the rain stopped.",
    "Settled on the sheet beside the second trap and stayed until dawn.",
    "The forewing has a clear kidney mark; the hindwing could not be seen.",
    "Very worn, the fringe almost gone.",
    "Two more flew over the reeds but were not caught.",
    "Compare with the drawing in the field book, page forty-one.",
    "Wind from the west, light, no moon.",
    "First of the year here.",
    "The site keeper’s count differs by one.",
    "Released at the alder bridge.",
    "Resembles the pale form from the salt gate – but larger.",
    "Trap two failed at about one o’clock; the numbers are a minimum.",
    "Pupa found nearby in May, under bark.",
    "Needs a second look.",
    "Fanée, probablement d’une première génération précoce.",
    "Größer als üblich; Zeichnung wie im Vorjahr.",
    "Sitting head-down on the post, wings roofed.",
    "Photographed at once; the colour fades within the hour.",
    "Mist over the mere from midnight, few moths on the wing.",
    "A left-handed ring on the hindwing, seen twice before at this site."};
constexpr std::array<std::string_view, 4> kGreekNotes{
    "Ήρθε στο φως λίγο μετά τη βροχή.", "Έμεινε στο πανί ως την αυγή.", "Τα φτερά είναι πολύ φθαρμένα.",
    "Χρειάζεται δεύτερη ματιά."};
constexpr std::array<std::string_view, 4> kArabicNotes{
    "جاءت إلى الضوء بعد المطر بقليل.", "بقيت على القماش حتى الفجر.", "الجناح الأمامي واضح العلامة.",
    "تحتاج إلى نظرة ثانية."};
constexpr std::array<std::string_view, 4> kJapaneseNotes{
    "雨がやんだあと、すぐに灯りに来た。", "夜明けまで布の上にとまっていた。", "翅はかなり傷んでいる。",
    "もう一度確かめる必要がある。"};
constexpr std::array<std::string_view, 6> kWordsRare{
    "Hollowmereschilfwaldeulenfalterbeobachtungsbogen", "see sheet", "cf.", "(trap 4)", "ditto", "?"};

template <std::size_t N>
std::string makeNote(Dice& dice, const std::array<std::string_view, N>& phrases, std::string_view between) {
    // Mostly short, some long, a few very long: at most 600 characters.
    const std::size_t roll = dice.below(100);
    const std::size_t wanted = roll < 45 ? 1 : roll < 75 ? 2 : roll < 90 ? 4 : roll < 97 ? 6 : 9;
    std::string note;
    for (std::size_t i = 0; i < wanted; ++i) {
        const std::string_view phrase = dice.pick(phrases);
        if (note.size() + phrase.size() + 1 > 590) {
            break;
        }
        note += i == 0 ? "" : between;
        note += phrase;
    }
    return note;
}

std::string isoDate(std::chrono::sys_days day) {
    const std::chrono::year_month_day date{day};
    return fmt::format("{:04}-{:02}-{:02}", static_cast<int>(date.year()),
                       static_cast<unsigned>(date.month()), static_cast<unsigned>(date.day()));
}

/// Says of sightings, one after the other, in which night they were.
class Nights {
public:
    explicit Nights(std::uint64_t seed) : dice_(seed + 77) {}
    void take(Sighting& sighting) {
        if (left_ == 0) {
            left_ = 10 + static_cast<int>(dice_.below(991));
            night_ += std::chrono::days{1};
        }
        --left_;
        sighting.night = isoDate(night_);
        if (!sighting.seen.empty()) { // its time stays
            const bool isPastMidnight = sighting.seen[11] < '2';
            sighting.seen.replace(0, 10, isoDate(night_ + std::chrono::days{isPastMidnight ? 1 : 0}));
        }
    }

private:
    Dice dice_;
    int left_ = 0;
    std::chrono::sys_days night_ = std::chrono::sys_days{std::chrono::year{2021} / 3 / 9};
};

std::string isoTime(std::chrono::sys_time<std::chrono::minutes> time) {
    const auto day = std::chrono::floor<std::chrono::days>(time);
    const std::chrono::hh_mm_ss clock(time - day);
    return fmt::format("{}T{:02}:{:02}:00Z", isoDate(day), clock.hours().count(), clock.minutes().count());
}

/// Says of sightings, one after the other, from when until when somebody watched at their site.
class Watches {
public:
    explicit Watches(std::uint64_t seed) : dice_(seed + 99) {}
    void take(Sighting& sighting) {
        using namespace std::chrono;
        at_ += minutes{dice_.below(26)};
        if (const auto evening = floor<days>(at_) + hours{20};
            at_ - floor<days>(at_) >= hours{5} && at_ < evening) {
            at_ = evening + minutes{dice_.below(40)}; // nobody watches by day
        }
        sighting.from = isoTime(at_);
        sighting.until = isoTime(at_ + minutes{15 + dice_.below(4) * dice_.below(50)});
    }

private:
    Dice dice_;
    std::chrono::sys_time<std::chrono::minutes> at_ =
        std::chrono::sys_days{std::chrono::year{2021} / 3 / 9} + std::chrono::hours{20};
};

std::string makeSeen(Dice& dice) {
    using namespace std::chrono;
    const sys_days start = sys_days{year{2024} / May / 1};
    const year_month_day date{start + days{dice.below(520)}};
    constexpr std::size_t kHour = 60;
    const std::size_t minutes = 20 * kHour + dice.below(9 * kHour);
    const year_month_day night = minutes < 24 * kHour ? date : year_month_day{sys_days{date} + days{1}};
    return fmt::format("{:04}-{:02}-{:02}T{:02}:{:02}:00Z", static_cast<int>(night.year()),
                       static_cast<unsigned>(night.month()), static_cast<unsigned>(night.day()),
                       minutes / kHour % 24, minutes % kHour);
}

void appendString(std::string& out, std::string_view value) {
    out += '"';
    for (const char c : value) {
        if (c == '"' || c == '\\') {
            out += '\\';
        }
        out += c;
    }
    out += '"';
}

} // namespace

Sighting makeSighting(std::int64_t number, std::uint64_t seed) {
    Dice dice(seed * 0x51ed270b7f4a7c15ull + static_cast<std::uint64_t>(number) * 0x2545f4914f6cdd1dull);
    Sighting s;
    s.id = number + 1;
    const std::size_t script = dice.below(100);
    const bool noted = dice.below(100) < 80;
    if (script < 84) {
        s.species = fmt::format("{} {}", dice.pick(kFirst), dice.pick(kSecond));
        s.note = noted ? makeNote(dice, kLatin, " ") : "";
    } else if (script < 90) {
        s.species = dice.pick(kGreek);
        s.note = noted ? makeNote(dice, kGreekNotes, " ") : "";
    } else if (script < 95) {
        s.species = dice.pick(kArabic);
        s.note = noted ? makeNote(dice, kArabicNotes, " ") : "";
    } else {
        s.species = dice.pick(kJapanese);
        s.note = noted ? makeNote(dice, kJapaneseNotes, "") : "";
    }
    if (noted && dice.below(60) == 0) {
        s.note += " ";
        s.note += dice.pick(kWordsRare);
    }
    s.site = dice.pick(kSites);
    s.seen = dice.below(100) < 93 ? makeSeen(dice) : "";
    const std::size_t many = dice.below(100);
    s.count = static_cast<std::int64_t>(many < 60   ? 1
                                        : many < 90 ? 2 + dice.below(8)
                                                    : 10 + dice.below(1400));
    s.wingspanMm = 14 + static_cast<std::int64_t>(dice.below(52));
    s.temperatureC = 4 + static_cast<double>(dice.below(180)) / 10.0;
    const std::size_t state = dice.below(100);
    s.status = state < 70 ? "verified" : state < 86 ? "queried" : "provisional";
    const std::size_t rare = dice.below(100);
    s.rarity = rare < 45 ? 1 : rare < 70 ? 2 : rare < 86 ? 3 : rare < 96 ? 4 : 5;
    for (std::size_t i = dice.below(5) * dice.below(3); i > 0; --i) {
        s.traits.emplace_back(dice.pick(kTraits));
    }
    if (dice.below(100) < 88) {
        static constexpr std::array<std::string_view, 3> kSizes{"s", "m", "l"};
        static constexpr std::array<std::string_view, 3> kAspects{"11", "43", "34"};
        s.picture = fmt::format("{}-{}{}.png", s.id, dice.pick(kSizes), dice.pick(kAspects));
    }
    return s;
}

void appendJson(std::string& out, const Sighting& s) {
    out += fmt::format("{{\"id\":{},\"species\":", s.id);
    appendString(out, s.species);
    out += ",\"site\":";
    appendString(out, s.site);
    if (!s.seen.empty()) {
        out += ",\"seen\":\"" + s.seen + '"';
    }
    out += fmt::format(
        ",\"count\":{},\"wingspan_mm\":{},\"temperature_c\":{:.1f},\"status\":\"{}\",\"rarity\":{}", s.count,
        s.wingspanMm, s.temperatureC, s.status, s.rarity);
    if (!s.note.empty()) {
        out += ",\"note\":";
        appendString(out, s.note);
    }
    out += ",\"traits\":[";
    for (std::size_t i = 0; i < s.traits.size(); ++i) {
        out += i == 0 ? "" : ",";
        appendString(out, s.traits[i]);
    }
    out += ']';
    if (!s.picture.empty()) {
        out += ",\"picture\":\"" + s.picture + '"';
    }
    out += '}';
}

void addTo(RecordBuilder& builder, const Sighting& s) {
    // In the order of the JSON, so both ways to the same table give the same fields.
    builder.setInteger(builder.fieldNamed("id", 0), s.id);
    builder.setText(builder.fieldNamed("species", 1), s.species);
    builder.setText(builder.fieldNamed("site", 2), s.site);
    const int seen = builder.fieldNamed("seen", 3);
    if (!s.seen.empty()) {
        builder.setText(seen, s.seen);
    }
    builder.setInteger(builder.fieldNamed("count", 4), s.count);
    builder.setInteger(builder.fieldNamed("wingspan_mm", 5), s.wingspanMm);
    builder.setReal(builder.fieldNamed("temperature_c", 6), s.temperatureC);
    builder.setText(builder.fieldNamed("status", 7), s.status);
    builder.setInteger(builder.fieldNamed("rarity", 8), s.rarity);
    const int note = builder.fieldNamed("note", 9);
    if (!s.note.empty()) {
        builder.setText(note, s.note);
    }
    std::string traits = "[";
    for (const std::string& trait : s.traits) {
        traits += traits.size() > 1 ? "," : "";
        appendString(traits, trait);
    }
    builder.setJson(builder.fieldNamed("traits", 10), FieldType::List, traits + "]");
    const int picture = builder.fieldNamed("picture", 11);
    if (!s.picture.empty()) {
        builder.setText(picture, s.picture);
    }
    if (!s.night.empty()) {
        builder.setText(builder.fieldNamed("night", 12), s.night);
    }
    if (!s.from.empty()) {
        builder.setText(builder.fieldNamed("from", 13), s.from);
        builder.setText(builder.fieldNamed("until", 14), s.until);
    }
    if (!s.company.empty()) {
        std::string company = "[";
        for (const Sighting& other : s.company) {
            company += company.size() > 1 ? ",{\"species\":" : "{\"species\":";
            appendString(company, other.species);
            company += fmt::format(",\"count\":{},\"picture\":\"{}\"}}", other.count, other.picture);
        }
        builder.setJson(builder.fieldNamed("company", 15), FieldType::List, company + "]");
    }
    builder.endRecord();
}

namespace {

/// Of the sightings that come after it, some twenty.
void keepCompany(Sighting& sighting, std::uint64_t seed) {
    const std::int64_t many = 16 + sighting.id * 7 % 9;
    for (std::int64_t i = 0; i < many; ++i) {
        sighting.company.push_back(makeSighting(sighting.id * 31 + i, seed));
    }
}

} // namespace

Result<RecordTable> makeSightings(std::int64_t count, std::uint64_t seed, std::stop_token stop,
                                  const ReadProgressHandler& progress, const SightingsIn& in) {
    RecordBuilder builder;
    Nights nights(seed);
    Watches watches(seed);
    for (std::int64_t i = 0; i < count; ++i) {
        if (i % 1000 == 0) {
            if (stop.stop_requested()) {
                return Error{ErrorCode::Cancelled, "making the demo records was cancelled", "", {}};
            }
            if (progress && i % 10'000 == 0) {
                progress({i, count, i});
            }
        }
        Sighting sighting = makeSighting(i, seed);
        if (in.byNight) {
            nights.take(sighting);
        }
        if (in.watches) {
            watches.take(sighting);
        }
        if (in.company) {
            keepCompany(sighting, seed);
        }
        addTo(builder, sighting);
    }
    return builder.finish();
}

Outcome writeSightings(std::ostream& out, std::int64_t count, std::uint64_t seed, DataForm form,
                       const std::function<bool(std::int64_t made)>& goOn) {
    std::string text = form == DataForm::Json ? "[\n" : "";
    for (std::int64_t i = 0; i < count; ++i) {
        appendJson(text, makeSighting(i, seed));
        text += form == DataForm::Json && i + 1 < count ? ",\n" : "\n";
        if (goOn && i % 256 == 0 && !goOn(i)) {
            return Error{ErrorCode::Cancelled, "it was stopped", {}, {}};
        }
        if (text.size() > (std::size_t{1} << 20)) {
            out.write(text.data(), static_cast<std::streamsize>(text.size()));
            text.clear();
        }
    }
    text += form == DataForm::Json ? "]\n" : "";
    out.write(text.data(), static_cast<std::streamsize>(text.size()));
    out.flush();
    if (!out) {
        return Error{ErrorCode::Unwritable, "the records cannot be written", "Is the disk full?", {}};
    }
    return done();
}

} // namespace scorrere::service
