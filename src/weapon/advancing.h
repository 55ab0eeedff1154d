#pragma once
#include <avrek/weapon/weapon.h>

#include <span>
#include <vector>

namespace avrek::detail {

/// Returns the length of the present activity; 0 if it has none.
Duration activity_length(const WeaponSpec& spec, const WeaponState& state);

/// One call of advance(): what it reads, what it moves, and where it reports. `state.now` is the moment at
/// which things happen.
struct Advancing {
    const WeaponSpec& spec;
    WeaponState& state;
    AmmoReserve& reserve;
    std::vector<WeaponEvent>& events;

    // The order of things (weapon.cpp).
    void run_through(std::span<const WeaponIntent> intents, Time until);
    void run(Time until);
    void finish_what_is_due();
    void apply(const WeaponIntent& intent);
    WeaponEvent& report(WeaponEventKind kind);
    void refuse(WeaponEventKind kind, WeaponRefusal refusal);

    // Trigger and shots (firing.cpp).
    Time trigger_due(Time until) const;
    void act_by_itself();
    void press_trigger();
    void let_go();
    void next_mode();
    void stop_firing(WeaponRefusal reason);
    void turn_ramps();
    bool has_shot() const;

    // Reload and hands (handling.cpp).
    WeaponRefusal reload_refusal() const;
    bool hands_are_taken() const;
    void press_reload();
    void start_reload();
    void want_reload_if_empty();
    void cancel_reload(WeaponRefusal reason);
    void finish_activity();
    void move_hands(const WeaponIntent& intent);

  private:
    TriggerMode mode() const { return mode_of(spec, state); }
    void begin(WeaponActivity activity, Duration length);

    void pull(double power);
    void take_rounds();
    void click();
    void start_charge();
    void release_charge();
    bool press_can_wait(WeaponRefusal blocked) const;

    bool reserve_counts() const { return spec.supply == AmmoSupply::counted; }
    void load(std::int32_t most);
    void continue_reload();
    void start_stow();
    void start_raise();
};

} // namespace avrek::detail
