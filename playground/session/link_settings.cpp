#include "link_settings.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace avrek::playground {

namespace {

struct Row {
    ArsenalNumber number{}; // without its value
    double (*get)(const LinkSettings&);
    void (*set)(LinkSettings&, double);
};

Duration of_milliseconds(double value) {
    return from_seconds(value / 1000.0);
}

const std::array<Row, 9>& rows() {
    static const std::array<Row, 9> all{{
        {{"link.latency", 0, 0, 500, false, "ms", "Round trip of your link"},
         [](const LinkSettings& link) { return to_milliseconds(link.yours.latency); },
         [](LinkSettings& link, double value) { link.yours.latency = of_milliseconds(value); }},
        {{"link.jitter", 0, 0, 200, false, "ms", "Maximum extra delay of a packet of yours"},
         [](const LinkSettings& link) { return to_milliseconds(link.yours.jitter); },
         [](LinkSettings& link, double value) { link.yours.jitter = of_milliseconds(value); }},
        {{"link.loss", 0, 0, 50, false, "%", "Share of your packets that are lost"},
         [](const LinkSettings& link) { return 100.0 * link.yours.loss; },
         [](LinkSettings& link, double value) { link.yours.loss = value / 100.0; }},
        {{"link.their_latency", 0, 0, 500, false, "ms", "Round trip of the second player"},
         [](const LinkSettings& link) { return to_milliseconds(link.theirs.latency); },
         [](LinkSettings& link, double value) { link.theirs.latency = of_milliseconds(value); }},
        {{"link.their_jitter", 0, 0, 200, false, "ms", "Maximum extra delay of a packet of theirs"},
         [](const LinkSettings& link) { return to_milliseconds(link.theirs.jitter); },
         [](LinkSettings& link, double value) { link.theirs.jitter = of_milliseconds(value); }},
        {{"link.their_loss", 0, 0, 50, false, "%", "Share of the second player's packets that are lost"},
         [](const LinkSettings& link) { return 100.0 * link.theirs.loss; },
         [](LinkSettings& link, double value) { link.theirs.loss = value / 100.0; }},
        {{"link.tick_rate", 0, 10, 128, true, "Hz", "Ticks a second; the fight begins anew"},
         [](const LinkSettings& link) { return static_cast<double>(link.rate.hertz); },
         [](LinkSettings& link, double value) { link.rate = {static_cast<std::int32_t>(value)}; }},
        {{"link.snapshot_interval", 0, 1, 16, true, "ticks",
          "Ticks between two snapshots; the fight begins anew"},
         [](const LinkSettings& link) { return static_cast<double>(link.snapshot_interval); },
         [](LinkSettings& link, double value) { link.snapshot_interval = static_cast<std::int32_t>(value); }},
        {{"link.interpolation", 0, 0, 300, false, "ms",
          "Extra delay before others are drawn; the fight begins anew"},
         [](const LinkSettings& link) { return to_milliseconds(link.interpolation); },
         [](LinkSettings& link, double value) { link.interpolation = of_milliseconds(value); }},
    }};
    return all;
}

} // namespace

std::vector<ArsenalNumber> numbers_of(const LinkSettings& link) {
    std::vector<ArsenalNumber> numbers;
    for (const Row& row : rows()) {
        numbers.push_back(row.number);
        numbers.back().value = row.get(link);
    }
    return numbers;
}

bool set_number(LinkSettings& link, std::string_view path, double value) {
    for (const Row& row : rows()) {
        if (row.number.path == path) {
            const double wanted = std::clamp(value, row.number.min, row.number.max);
            row.set(link, row.number.whole ? std::round(wanted) : wanted);
            return true;
        }
    }
    return false;
}

} // namespace avrek::playground
