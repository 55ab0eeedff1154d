#include <avrek/skirmish/blended_poses.h>

#include <algorithm>
#include <cassert>
#include <cmath>

namespace avrek {

namespace {

// Weights of the poses, by kind. That of standing is what the others leave, and its byte stays 0.
using Weights = std::array<std::uint8_t, pose_kind_count>;

constexpr int whole = 255;
constexpr auto aiming = static_cast<std::size_t>(PoseKind::aiming);

// The pose that a body takes, aiming apart: the last that fits it and that it has.
PoseKind wanted_of(const PoseInput& in, const ReadyPoses& ready) {
    const BodyState state = in.vitals.state;
    const bool lies = state == BodyState::down || state == BodyState::ragdoll;
    const bool is_hurt = state == BodyState::staggered || state == BodyState::stunned;
    const bool crouches = in.intent.buttons.has(Button::crouch);
    const auto has = [&ready](PoseKind kind) { return ready.is_there[static_cast<std::size_t>(kind)]; };
    if (lies) {
        return in.vitals.on_back ? PoseKind::on_back : PoseKind::on_front;
    }
    if (state == BodyState::rising) {
        return PoseKind::rising;
    }
    if (is_hurt && has(PoseKind::staggered)) {
        return PoseKind::staggered;
    }
    if (in.motion.airborne && has(PoseKind::airborne)) {
        return PoseKind::airborne;
    }
    return crouches ? PoseKind::crouching : PoseKind::standing;
}

// How far weights move in a span, so that they take `time` from 0 to `whole` at any tick rate.
int weight_step(const Span& span, Duration time) {
    if (time <= Duration::zero()) {
        return whole;
    }
    const std::int64_t length = time.count();
    const std::int64_t begin = (span.begin - Time{}).count();
    const std::int64_t end = (span.end - Time{}).count();
    // Whole periods cancel, and then nothing overflows.
    const std::int64_t from = begin % length;
    const std::int64_t steps =
        whole * (from + std::min(end - begin, length)) / length - whole * from / length;
    return static_cast<int>(std::clamp<std::int64_t>(steps, 0, whole));
}

void move_weight(std::uint8_t& weight, bool up, int step) {
    weight = static_cast<std::uint8_t>(std::clamp(weight + (up ? step : -step), 0, whole));
}

// The weights of the poses that a body blends, as shares of 1; aiming apart.
std::array<double, pose_kind_count> shares_of(const Weights& weights) {
    std::array<double, pose_kind_count> shares{};
    int sum = 0;
    for (std::size_t kind = 1; kind < aiming; ++kind) {
        sum += weights[kind];
    }
    const double total = std::max(whole, sum);
    for (std::size_t kind = 1; kind < aiming; ++kind) {
        shares[kind] = weights[kind] / total;
    }
    shares[0] = std::max(0, whole - sum) / total;
    return shares;
}

// A pose as the weighted sum of some; turns by normalised sums of quaternions on the same half as the first.
class PoseSum {
  public:
    void add(const Pose& pose, double share) {
        const double sign = count_ > 0 && turn_.dot(pose.rotation.coeffs()) < 0.0 ? -1.0 : 1.0;
        position_ += share * pose.position;
        turn_ += sign * share * pose.rotation.coeffs();
        ++count_;
    }
    Pose value() const {
        const double length = std::sqrt(turn_.squaredNorm());
        Pose sum{position_, Rotation::Identity()};
        if (length > 1e-6) {
            sum.rotation.coeffs() = turn_ / length;
        }
        return sum;
    }

  private:
    Vector3 position_ = Vector3::Zero();
    Eigen::Vector4d turn_ = Eigen::Vector4d::Zero();
    int count_ = 0;
};

} // namespace

PoseState BlendedPoses::advance(const PoseInput& in, PoseState before) const {
    const ReadyPoses& ready = in.body.ready;
    if (ready.poses.empty()) {
        return {}; // a body made without finish()
    }
    auto weights = before.as<Weights>();
    const auto wanted = static_cast<std::size_t>(wanted_of(in, ready));
    const int step = weight_step(in.span, ready.time[wanted]);
    for (std::size_t kind = 1; kind < aiming; ++kind) {
        move_weight(weights[kind], kind == wanted, step);
    }
    const bool lies = wanted == static_cast<std::size_t>(PoseKind::on_front) ||
                      wanted == static_cast<std::size_t>(PoseKind::on_back);
    move_weight(weights[aiming], in.aiming && !lies && !ready.aimed.empty(),
                weight_step(in.span, ready.time[aiming]));
    before.set(weights);
    return before;
}

void BlendedPoses::pose(const PosedBody& of, std::span<Pose> poses) const {
    const ReadyPoses& ready = of.body.ready;
    if (ready.poses.size() != pose_kind_count * poses.size()) {
        return; // at rest
    }
    const auto weights = of.state.as<Weights>();
    const auto shares = shares_of(weights);
    const std::size_t joints = poses.size();
    const auto turned = [&of](const Pose& pose, double look) {
        return look == 0.0 ? pose : Pose{pose.position, pose.rotation * turned_to({0.0, look * of.pitch})};
    };
    for (std::size_t joint = 0; joint < joints; ++joint) {
        PoseSum sum;
        double look = 0.0;
        std::size_t only = pose_kind_count;
        for (std::size_t kind = 0; kind < aiming; ++kind) {
            if (shares[kind] > 0.0) {
                sum.add(ready.poses[kind * joints + joint], shares[kind]);
                look += shares[kind] * ready.look[kind * joints + joint];
                only = shares[kind] == 1.0 ? kind : only;
            }
        }
        // One pose alone is what it is, to the last bit.
        poses[joint] =
            turned(only < pose_kind_count ? ready.poses[only * joints + joint] : sum.value(), look);
    }
    if (weights[aiming] > 0) {
        for (const std::uint32_t joint : ready.aimed) {
            const Pose aimed = turned(to_world(poses[0], ready.poses[aiming * joints + joint]),
                                      ready.look[aiming * joints + joint]);
            poses[joint] = weights[aiming] == whole
                               ? aimed
                               : between(poses[joint], aimed, weights[aiming] / double{whole});
        }
    }
}

const BlendedPoses& blended_poses() {
    static const BlendedPoses built_in;
    return built_in;
}

double share_of(PoseKind kind, const PoseState& state) {
    const auto weights = state.as<Weights>();
    const auto index = static_cast<std::size_t>(kind);
    return index == aiming ? weights[aiming] / double{whole} : shares_of(weights)[index];
}

} // namespace avrek
