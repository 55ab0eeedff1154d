#pragma once
#include "../core/by_id.h"
#include <avrek/scene/scene.h>
#include <avrek/skirmish/fighter.h>

#include <algorithm>
#include <vector>

namespace avrek::detail {

/// A scene in which body_pose() is where the feet of a combatant are: a body that lies or crouches has its
/// rig elsewhere. For moments of one tick, through which feet move evenly.
class FeetWorld final : public World {
  public:
    /// Shows these from now on. They must outlive it; fighters are in order of their ids.
    void show(const Scene& scene, const std::vector<Fighter>& fighters, const Span& tick) {
        scene_ = &scene;
        fighters_ = &fighters;
        tick_ = &tick;
    }

    std::optional<Hit> closest_hit(const Cast& cast, const Filter& filter) const override {
        return scene_->closest_hit(cast, filter);
    }
    std::size_t every_hit(const Cast& cast, const Filter& filter, std::span<Hit> found) const override {
        return scene_->every_hit(cast, filter, found);
    }
    std::size_t overlaps(const Volume& volume, Time at, const Filter& filter,
                         std::span<Hit> found) const override {
        return scene_->overlaps(volume, at, filter, found);
    }
    Metres clearance(const Vector3& point) const override { return scene_->clearance(point); }
    bool may_meet_bodies(const Bounds& box, Time begin, Time end) const override {
        return scene_->may_meet_bodies(box, begin, end);
    }
    bool any_hit(const Cast& cast, const Filter& filter) const override {
        return scene_->any_hit(cast, filter);
    }
    void closest_hits(std::span<const Cast> casts, const Filter& filter,
                      std::span<std::optional<Hit>> hits) const override {
        scene_->closest_hits(casts, filter, hits);
    }
    void any_hits(std::span<const Cast> casts, const Filter& filter, std::span<bool> hits) const override {
        scene_->any_hits(casts, filter, hits);
    }
    std::optional<Pose> body_pose(BodyId id, Time at) const override {
        std::optional<Pose> pose = scene_->pose_of(id, at);
        const Fighter* fighter = find_by_id(*fighters_, id);
        if (pose && fighter != nullptr) {
            const double share = std::clamp(static_cast<double>((at - tick_->begin).count()) /
                                                static_cast<double>((tick_->end - tick_->begin).count()),
                                            0.0, 1.0);
            pose->position =
                fighter->position_before + share * (fighter->motion.position - fighter->position_before);
        }
        return pose;
    }

  private:
    const Scene* scene_ = nullptr;
    const std::vector<Fighter>* fighters_ = nullptr;
    const Span* tick_ = nullptr;
};

} // namespace avrek::detail
