#include "key_making.h"

namespace avrek::detail {

const std::vector<Key<LinkSpec>>& link_keys() {
    static const std::vector<Key<LinkSpec>> keys = [] {
        constexpr KeyRange bytes{0.0, 1e9, false};
        Rows<LinkSpec> rows{"link"};
        rows.like();
        rows.number("latency", {0.0, 5.0, false}, "s", "0.05", "Round trip; half of it each way.",
                    [](LinkSpec& spec, double value) { spec.latency = from_seconds(value); });
        rows.number("jitter", {0.0, 5.0, false}, "s", "0", "Maximum extra delay of a packet.",
                    [](LinkSpec& spec, double value) { spec.jitter = from_seconds(value); });
        rows.number("loss", {0.0, 0.95, false}, "", "0", "Share of packets lost.",
                    [](LinkSpec& spec, double value) { spec.loss = value; });
        rows.number("loss_run", {1.0, 1000.0, false}, "packets", "1",
                    "Typical number of packets lost in a row.",
                    [](LinkSpec& spec, double value) { spec.loss_run = value; });
        rows.number("duplicated", share, "", "0", "Share of packets that arrive twice.",
                    [](LinkSpec& spec, double value) { spec.duplicated = value; });
        rows.number("reordered", share, "", "0", "Share of packets that later ones can overtake.",
                    [](LinkSpec& spec, double value) { spec.reordered = value; });
        rows.number("up", bytes, "bytes/s", "0: no ceiling", "Bandwidth to the server.",
                    [](LinkSpec& spec, double value) { spec.up = value; });
        rows.number("down", bytes, "bytes/s", "0: no ceiling", "Bandwidth from the server.",
                    [](LinkSpec& spec, double value) { spec.down = value; });
        return rows.rows;
    }();
    return keys;
}

} // namespace avrek::detail
