#include "keys/sections.h"
#include <avrek/arsenal/arsenal_hash.h>
#include <avrek/core/state_hash.h>

#include <concepts>
#include <type_traits>

namespace avrek {

namespace detail {

namespace {

// Adds the values of all keys one after another.
class ArsenalHashing {
  public:
    explicit ArsenalHashing(StateHash& hash) : hash_(hash) {}

    template <class Member>
    void operator()(const char*, Member&& member, const KeyRow&, const char*) {
        add(member);
    }
    template <class Spec>
    void group(const char*, Spec&& spec) {
        visit_keys(*this, spec);
    }
    void group(const char*, std::optional<GuardSpec>& guard) {
        add(guard.has_value());
        if (guard) {
            visit_keys(*this, *guard);
        }
    }
    template <class Entry, class Visit>
    void tables(const char*, std::vector<Entry>& entries, const KeyTables&, const char*, const Visit& visit) {
        add(entries.size());
        for (Entry& entry : entries) {
            add(entry.name);
            visit(*this, entry);
        }
    }
    template <class Entry>
    void tables(const char* name, std::vector<Entry>& entries, const KeyTables& rule, const char* meaning) {
        tables(name, entries, rule, meaning, [](auto& key, Entry& entry) { visit_keys(key, entry); });
    }
    template <class Spec>
    void section(std::vector<Spec>& specs) {
        add(specs.size());
        for (Spec& spec : specs) {
            add(spec.id);
            visit_keys(*this, spec);
        }
    }

  private:
    template <class Value>
    requires std::integral<Value> || std::is_enum_v<Value>
    void add(Value value) { hash_.add(static_cast<std::uint64_t>(value)); }
    void add(double value) { hash_.add(value); }
    void add(Duration value) { add(value.count()); }
    void add(const Vector3& value) { hash_.add(value); }
    void add(const Rotation& value) { all(value.x(), value.y(), value.z(), value.w()); }
    void add(const Look& value) { all(value.yaw, value.pitch); }
    void add(const Pose& pose) { all(pose.position, pose.rotation); }
    void add(const std::string& text) {
        add(text.size());
        for (const char letter : text) {
            add(static_cast<unsigned char>(letter));
        }
    }
    template <class Value>
    void add(const std::vector<Value>& values) {
        add(values.size());
        for (const Value& value : values) {
            add(value);
        }
    }
    template <class Value>
    void add(const std::optional<Value>& value) {
        add(value.has_value());
        if (value) {
            add(*value);
        }
    }
    template <class... Shapes>
    void add(const std::variant<Shapes...>& shape) {
        add(shape.index());
        std::visit([this](const auto& one) { this->add(one); }, shape);
    }
    void add(const Sphere& shape) { all(shape.centre, shape.radius); }
    void add(const Capsule& shape) { all(shape.from, shape.to, shape.radius); }
    void add(const Cylinder& shape) { all(shape.from, shape.to, shape.radius); }
    void add(const Box& shape) { all(shape.pose, shape.half_extents); }
    void add(const HalfSpace& shape) { all(shape.normal, shape.offset); }
    void add(const CurvePoint& point) { all(point.x, point.y); }
    void add(const PatternPoint& point) { all(point.left, point.up); }
    void add(const Curve& curve) { add(curve.points); }
    template <class Id>
    void add(const SpecRef<Id>& name) {
        add(name.id);
    }
    void add(const DamageTypeFactor& spec) { all(spec.type, spec.factor); }
    void add(const RegionMultiplier& spec) { all(spec.region, spec.multiplier); }
    void add(const JointName& region) { add(region.joint); }
    void add(const RegionShapes& region) { all(region.shapes, region.joints); }
    void add(CollisionLayers layers) { add(layers.bits()); }
    void add(const Interruptions& by) { all(by.trigger, by.swap, by.sprint, by.strike, by.stun); }
    void add(ActSet acts) {
        for (std::size_t act = 0; act < act_count; ++act) {
            add(acts.contains(static_cast<Act>(act)));
        }
    }
    template <class... Values>
    void all(const Values&... values) {
        (add(values), ...);
    }

    StateHash& hash_;
};

template <class Spec>
std::uint64_t hash_of_spec(Spec spec) { // visitors may change what they visit
    StateHash hash;
    ArsenalHashing hashing{hash};
    visit_keys(hashing, spec);
    return hash.value();
}

} // namespace

} // namespace detail

std::uint64_t hash_of(const Arsenal& arsenal) {
    StateHash hash;
    detail::ArsenalHashing hashing{hash};
    Arsenal copy = arsenal; // visitors may change what they visit
    detail::visit_sections([&](const char*, auto& specs) { hashing.section(specs); }, copy);
    return hash.value();
}

std::uint64_t hash_of(const BodySpec& spec) {
    return detail::hash_of_spec(spec);
}

std::uint64_t hash_of(const MeleeSpec& spec) {
    return detail::hash_of_spec(spec);
}

std::uint64_t hash_of(const ProjectileSpec& spec) {
    return detail::hash_of_spec(spec);
}

std::uint64_t hash_of(const SurfaceSpec& spec) {
    return detail::hash_of_spec(spec);
}

} // namespace avrek
