#include "map_maker.h"
#include <avrek/core/elementary.h>

#include <algorithm>
#include <cmath>

namespace avrek {

namespace {

// Twelve rows of a disc; what they are off differs from point to point of the integral, and evens out.
constexpr int rows_of_disc = 12;

// The row that integration begins with, and the turn from one row to the next.
struct DiscRows {
    Radians step = pi / rows_of_disc;
    double turn_sine = 0.25881904510252074; // sine of a twelfth of a half turn
    double turn_cosine = 0.9659258262890683;
    double row_sine = -0.9914448613738104; // sine at the middle of the lowest row
    double row_cosine = 0.13052619222005157;
};

// arcsine, by the arc tangent.
Radians arc_sine(double value) {
    return arc_tangent(value, std::sqrt(std::max(0.0, 1.0 - value * value)));
}

// The rows between two heights, in radii; those of a whole disc are known.
DiscRows rows_between(double lowest, double highest) {
    DiscRows rows;
    if (lowest > -1.0 || highest < 1.0) {
        const Radians from = lowest <= -1.0 ? -0.5 * pi : arc_sine(lowest);
        const Radians to = highest >= 1.0 ? 0.5 * pi : arc_sine(highest);
        const Radians step = (to - from) / rows_of_disc;
        rows = {step, sine(step), cosine(step), sine(from + 0.5 * step), cosine(from + 0.5 * step)};
    }
    return rows;
}

} // namespace

std::optional<MapPoint> ShotMap::point_of(const Vector3& direction, const Vector3& shift) const {
    const double ahead = direction.dot(forward_);
    const double left_to_go = depth_ - shift.dot(forward_);
    if (ahead <= 1e-3 || left_to_go <= 0.0) {
        return std::nullopt;
    }
    const Vector3 met = shift + (left_to_go / ahead) * direction;
    return MapPoint{-met.dot(left_) / depth_, met.dot(up_) / depth_};
}

const MapOutcome* ShotMap::at(const MapPoint& point) const {
    const double place = (point.up - low_) / row_height_;
    if (!(place >= 0.0 && place < static_cast<double>(rows_.size()))) {
        return nullptr;
    }
    const Row& row = rows_[static_cast<std::size_t>(place)];
    for (std::uint32_t index = row.begin; index < row.end; ++index) {
        if (point.right >= stretches_[index].from && point.right < stretches_[index].to) {
            return &outcomes_[stretches_[index].outcome];
        }
    }
    return nullptr;
}

void ShotMap::add_shares(const MapPoint& centre, double radius, double weight,
                         std::span<double> shares) const {
    const double high = low_ + row_height_ * static_cast<double>(rows_.size());
    if (radius <= 0.0) {
        if (const MapOutcome* found = at(centre)) {
            shares[static_cast<std::size_t>(found - outcomes_.data())] += weight;
        }
        return;
    }
    // Rows of the disc at even angles: y = radius sin(angle), so that the round ends are integrated well.
    const double lowest = (low_ - centre.up) / radius;
    const double highest = (high - centre.up) / radius;
    if (lowest >= 1.0 || highest <= -1.0 || rows_.empty() || centre.right + radius <= from_ ||
        centre.right - radius >= to_) {
        return;
    }
    auto [step, turn_sine, turn_cosine, row_sine, row_cosine] = rows_between(lowest, highest);
    const double whole = weight * step / (pi * radius);
    for (int index = 0; index < rows_of_disc; ++index) {
        const auto place = static_cast<std::ptrdiff_t>((centre.up + radius * row_sine - low_) / row_height_);
        const Row& row = rows_[static_cast<std::size_t>(
            std::clamp<std::ptrdiff_t>(place, 0, static_cast<std::ptrdiff_t>(rows_.size()) - 1))];
        const double half = radius * row_cosine;
        const double begin = centre.right - half;
        const double end = centre.right + half;
        if (begin < row.to && end > row.from) {
            const double each = whole * row_cosine;
            for (std::uint32_t stretch = row.begin; stretch < row.end; ++stretch) {
                const Stretch& part = stretches_[stretch];
                const double length = std::min(end, part.to) - std::max(begin, part.from);
                if (length > 0.0) {
                    shares[part.outcome] += each * length;
                }
            }
        }
        const double next = row_sine * turn_cosine + row_cosine * turn_sine;
        row_cosine = row_cosine * turn_cosine - row_sine * turn_sine;
        row_sine = next;
    }
}

MapMaker::MapMaker(const Vector3& line, Metres depth) {
    map_.forward_ = line;
    map_.depth_ = std::max(0.1, depth);
    const Across axes = across(line);
    map_.left_ = axes.left;
    map_.up_ = axes.up;
}

void MapMaker::set_rows(double low, double high, std::size_t count) {
    map_.low_ = low;
    map_.row_height_ = (high - low) / static_cast<double>(count);
    map_.rows_.assign(count, {0, 0, 0.0, 0.0});
    map_.stretches_.clear();
}

double MapMaker::middle_of(std::size_t row) const {
    return map_.low_ + (static_cast<double>(row) + 0.5) * map_.row_height_;
}

Vector3 MapMaker::direction_at(const MapPoint& point) const {
    return (map_.forward_ - point.right * map_.left_ + point.up * map_.up_).normalized();
}

std::uint32_t MapMaker::outcome(const MapOutcome& outcome) {
    map_.outcomes_.push_back(outcome);
    return static_cast<std::uint32_t>(map_.outcomes_.size() - 1);
}

void MapMaker::begin_row(std::size_t row) {
    row_ = row;
    const auto begin = static_cast<std::uint32_t>(map_.stretches_.size());
    map_.rows_[row] = {begin, begin, 0.0, 0.0};
}

void MapMaker::add(double from, double to, std::uint32_t outcome) {
    ShotMap::Row& row = map_.rows_[row_];
    if (row.end > row.begin && map_.stretches_.back().outcome == outcome &&
        map_.stretches_.back().to == from) {
        map_.stretches_.back().to = to;
    } else {
        map_.stretches_.push_back({from, to, outcome});
        ++row.end;
    }
    row.from = map_.stretches_[row.begin].from;
    row.to = to;
    map_.from_ = std::min(map_.from_, row.from);
    map_.to_ = std::max(map_.to_, to);
}

ShotMap map_of_sight(const Engagement& engagement, const EngagementPlace& place) {
    return map_of_silhouettes(engagement, {place.eye, direction_of(place.look)}, place.target);
}

ShotMap map_of(const Engagement& engagement, const EngagementPlace& place) {
    if (engagement.melee != nullptr) {
        return map_of_swings(engagement, place);
    }
    switch (delivery_of(*engagement.weapon)) {
    case Delivery::hitscan:
        return map_of_silhouettes(engagement, {place.muzzle, place.line}, place.target);
    case Delivery::spray:
        return map_of_sprays(engagement, place);
    case Delivery::projectile:
        break;
    }
    return map_of_flights(engagement, place);
}

} // namespace avrek
