#pragma once
#include "../../src/arsenal/keys/sections.h"
#include "../scene/draw.h"
#include <avrek/arsenal/finish.h>

#include <algorithm>
#include <optional>
#include <string>
#include <utility>

namespace avrek::trial {

/// Changes some numbers of an arsenal by chance, each within the range of its key: a visitor of visit_keys().
class Tuner {
  public:
    Tuner(Draw& draw, std::size_t one_in) : draw_(draw), one_in_(one_in) {}

    template <class Member>
    void operator()(const char*, Member&& member, const detail::KeyRow& row, const char*) {
        change(member, row);
    }
    template <class Spec>
    void group(const char*, Spec&& spec) {
        detail::visit_keys(*this, spec);
    }
    template <class Spec>
    void group(const char*, std::optional<Spec>& spec) {
        if (spec) {
            detail::visit_keys(*this, *spec);
        }
    }
    template <class Entry, class... Visit>
    void tables(const char*, std::vector<Entry>& entries, const detail::KeyTables&, const char*,
                const Visit&... visit) {
        for (Entry& entry : entries) {
            if constexpr (sizeof...(Visit) == 0) {
                detail::visit_keys(*this, entry);
            } else {
                (visit(*this, entry), ...);
            }
        }
    }

  private:
    double changed(double value, const detail::KeyRow& row) {
        const double scale = detail::scale_of(row);
        return std::clamp(value * draw_(0.5, 2.0), row.range.min * scale, row.range.max * scale);
    }
    void change(double& value, const detail::KeyRow& row) {
        value = draw_.below(one_in_) == 0 && std::isfinite(value) ? changed(value, row) : value;
    }
    void change(std::int32_t& value, const detail::KeyRow& row) {
        if (draw_.below(one_in_) == 0 && value > 0) {
            value = static_cast<std::int32_t>(changed(value + 0.5, row));
        }
    }
    void change(Duration& value, const detail::KeyRow& row) {
        if (draw_.below(one_in_) == 0 && value != Duration::max()) {
            value = from_seconds(changed(to_seconds(value), row));
        }
    }
    template <class Value>
    void change(std::optional<Value>& value, const detail::KeyRow& row) {
        if (value) {
            change(*value, row);
        }
    }
    void change(bool& value, const detail::KeyRow&) {
        value = draw_.below(3 * one_in_) == 0 ? !value : value;
    }
    template <class Member>
    void change(Member&&, const detail::KeyRow&) {}

    Draw& draw_;
    std::size_t one_in_;
};

/// Returns an arsenal with some values changed. Now and then it has entries more, or fewer, or in another
/// order.
inline Arsenal tuned(Draw& draw, const Arsenal& arsenal) {
    for (int attempt = 0; attempt < 100; ++attempt) {
        Arsenal other = arsenal;
        Tuner tuner{draw, 6 + draw.below(30)};
        detail::visit_sections(
            [&](const char*, auto& specs) {
                for (auto& spec : specs) {
                    detail::visit_keys(tuner, spec);
                }
            },
            other);
        if (draw.below(4) == 0) {
            BodySpec more = other.bodies[0];
            more.id = "more" + std::to_string(draw.below(3));
            more.rig.joints.resize(more.rig.joints.size() + 1 + draw.below(3), {.name = "more"});
            for (std::size_t joint = 0; joint < more.rig.joints.size(); ++joint) {
                more.rig.joints[joint].name = "joint" + std::to_string(joint);
            }
            more.poses.clear();
            if (!other.body(more.id)) {
                other.bodies.push_back(more);
            }
            ProjectileSpec seed = other.projectiles[0];
            seed.id = more.id;
            other.projectiles.push_back(seed);
        }
        if (draw.below(4) == 0) {
            std::reverse(other.weapons.begin(), other.weapons.end());
            std::reverse(other.conditions.begin(), other.conditions.end());
        }
        for (MatchSpec& rules : other.matches) {
            rules.score_to_win = 0;
            rules.time_limit = Duration::max();
            rules.last_one_wins = false;
        }
        if (auto made = finish(std::move(other))) {
            return std::move(*made.value);
        }
    }
    return arsenal;
}

} // namespace avrek::trial
