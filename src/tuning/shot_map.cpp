#include "map_maker.h"
#include <avrek/core/elementary.h>

#include <algorithm>
#include <cmath>

namespace avrek::detail {

namespace {

constexpr std::size_t max_groups = 4; // eights of slots: beyond these, most of them would be empty

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

void ShotMap::add_shares(const MapPoint& centre, double radius, double weight, double phase,
                         std::span<double> shares) const {
    const auto rows = static_cast<double>(rows_.size());
    if (radius <= 0.0) {
        if (const MapOutcome* found = at(centre)) {
            shares[static_cast<std::size_t>(found - outcomes_.data())] += weight;
        }
        return;
    }
    const double lowest = (low_ - centre.up) / radius;
    const double highest = lowest + row_height_ * rows / radius;
    if (lowest >= 1.0 || highest <= -1.0 || rows_.empty() || centre.right + radius <= from_ ||
        centre.right - radius >= to_) {
        return;
    }
    const DiscOnMap disc{.row = static_cast<float>((centre.up - low_) / row_height_),
                         .right = static_cast<float>(centre.right),
                         .radius = static_cast<float>(radius),
                         .in_rows = static_cast<float>(radius / row_height_),
                         .rows = static_cast<float>(rows),
                         .lowest = static_cast<float>(lowest),
                         .highest = static_cast<float>(highest),
                         .weight = static_cast<float>(weight),
                         .phase = static_cast<float>(phase)};
    DiscChords chords;
    point_lanes().cut(disc, chords);
    if (groups_ > 0) {
        add_slots(chords, shares);
    } else {
        add_stretches(chords, shares);
    }
}

void ShotMap::add_slots(const DiscChords& chords, std::span<double> shares) const {
    std::array<float, max_groups * lanes> sums;
    point_lanes().sum_slots(chords, slots_.data(), groups_, sums.data());
    for (std::size_t slot = 0; slot < slot_outcomes_.size(); ++slot) {
        shares[slot_outcomes_[slot]] += static_cast<double>(sums[slot]);
    }
}

LookFrame ShotMap::frame_from(const Vector3& from) const {
    return {narrow(forward_), narrow(left_), narrow(up_), narrow(from), static_cast<float>(depth_)};
}

void ShotMap::add_stretches(const DiscChords& chords, std::span<double> shares) const {
    for (std::size_t index = 0; index < lanes; ++index) {
        const Row& row = rows_[static_cast<std::size_t>(chords.row[index])];
        const auto from = static_cast<double>(chords.from[index]);
        const auto to = static_cast<double>(chords.to[index]);
        if (from >= row.to || to <= row.from) {
            continue;
        }
        for (std::uint32_t stretch = row.begin; stretch < row.end; ++stretch) {
            const Stretch& part = stretches_[stretch];
            const double length = std::min(to, part.to) - std::max(from, part.from);
            if (length > 0.0) {
                shares[part.outcome] += static_cast<double>(chords.weight[index]) * length;
            }
        }
    }
}

// An outcome gets as many slots as it has stretches in the row where it has most.
void ShotMap::lay_out_slots() {
    std::vector<std::uint32_t> most(outcomes_.size(), 0);
    std::vector<std::uint32_t> here(outcomes_.size());
    for (const Row& row : rows_) {
        std::fill(here.begin(), here.end(), 0U);
        for (std::uint32_t stretch = row.begin; stretch < row.end; ++stretch) {
            const std::uint32_t outcome = stretches_[stretch].outcome;
            most[outcome] = std::max(most[outcome], ++here[outcome]);
        }
    }
    std::vector<std::uint32_t> first(outcomes_.size());
    for (std::uint32_t outcome = 0; outcome < most.size(); ++outcome) {
        first[outcome] = static_cast<std::uint32_t>(slot_outcomes_.size());
        slot_outcomes_.insert(slot_outcomes_.end(), most[outcome], outcome);
    }
    groups_ = (slot_outcomes_.size() + lanes - 1) / lanes;
    if (groups_ > max_groups) {
        groups_ = 0;
        slot_outcomes_.clear();
        return;
    }
    SlotEnds unused;
    unused.from.fill(std::numeric_limits<float>::max());
    unused.to.fill(std::numeric_limits<float>::lowest());
    slots_.assign(rows_.size() * groups_, unused);
    for (std::size_t row = 0; row < rows_.size(); ++row) {
        here = first;
        for (std::uint32_t stretch = rows_[row].begin; stretch < rows_[row].end; ++stretch) {
            const Stretch& part = stretches_[stretch];
            const std::uint32_t slot = here[part.outcome]++;
            SlotEnds& ends = slots_[row * groups_ + slot / lanes];
            ends.from[slot % lanes] = static_cast<float>(part.from);
            ends.to[slot % lanes] = static_cast<float>(part.to);
        }
    }
}

ShotMap MapMaker::take() {
    map_.lay_out_slots();
    return std::move(map_);
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

} // namespace avrek::detail
