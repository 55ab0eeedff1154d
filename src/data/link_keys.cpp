#include "key_making.h"

namespace avrek::data {

const std::vector<Key<LinkSpec>>& link_keys() {
    static const std::vector<Key<LinkSpec>> keys = [] {
        constexpr KeyRange bytes{0.0, 1e9, false};
        Rows<LinkSpec> rows{"link"};
        rows.like();
        rows.number("latency", {0.0, 5.0, false}, "s", "0.05", "There and back; half of it each way.",
                    [](LinkSpec& spec, double value) { spec.latency = from_seconds(value); });
        rows.number("jitter", {0.0, 5.0, false}, "s", "0", "A packet takes up to so much longer.",
                    [](LinkSpec& spec, double value) { spec.jitter = from_seconds(value); });
        rows.number("loss", {0.0, 0.95, false}, "", "0", "Share of the packets that are lost.",
                    [](LinkSpec& spec, double value) { spec.loss = value; });
        rows.number("burst", {1.0, 1000.0, false}, "packets", "1", "Lost in a row, typically.",
                    [](LinkSpec& spec, double value) { spec.burst = value; });
        rows.number("duplicated", share, "", "0", "Share of the packets that come twice.",
                    [](LinkSpec& spec, double value) { spec.duplicated = value; });
        rows.number("reordered", share, "", "0", "Share of the packets that later ones may overtake.",
                    [](LinkSpec& spec, double value) { spec.reordered = value; });
        rows.number("up", bytes, "bytes/s", "0: no ceiling", "To the server at most.",
                    [](LinkSpec& spec, double value) { spec.up = value; });
        rows.number("down", bytes, "bytes/s", "0: no ceiling", "From the server at most.",
                    [](LinkSpec& spec, double value) { spec.down = value; });
        return rows.rows;
    }();
    return keys;
}

} // namespace avrek::data
