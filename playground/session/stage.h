#pragma once
#include "controls.h"
#include <avrek/data/game_data.h>
#include <avrek/skirmish/bots.h>
#include <avrek/skirmish/bout.h>
#include <avrek/skirmish/skirmish.h>

#include <deque>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// The fight of a playground: a player among bots, in time that pauses and goes back.
namespace avrek::playground {

/// Settings of a stage.
struct StageSettings {
    std::size_t crew = 9;    ///< player included, at least 1
    std::size_t targets = 0; ///< targets on rails before the player's first place, 0 to 8
    std::uint64_t seed = 1;
    TickRate rate{64};
    Duration kept = std::chrono::seconds{20}; ///< how far back one can go, about
};

/// Returns the faults of an arsenal and a level for a stage: it needs a body, a weapon, a shooter and rules.
std::vector<Diagnostic> validate_stage(const GameData& data, const StageSettings& settings);

/// Returns the setup of a stage's crews: everybody takes turns with the arsenal's weapons and profiles.
BoutSetup bots_of(const Arsenal& arsenal, std::size_t crew);
/// Returns the members of these crews; the player has every weapon that fits.
std::vector<BoutMember> members_of(const BoutSetup& setup, BodyId player);

/// Maximum length of real time that is played at once: after a longer wait the rest is left out.
inline constexpr Duration max_played_at_once = std::chrono::milliseconds{250};

/// Maximum number of targets on rails.
inline constexpr std::size_t max_targets = 8;

/// A player among bots.
class Stage {
  public:
    /// Begins the fight. Precondition (asserted): validate_stage() finds nothing.
    Stage(std::shared_ptr<const GameData> data, const StageSettings& settings);

    Controls controls{}; ///< inputs of the player from the next tick on

    /// Plays on by a length of real time, at the speed, unless it is paused. From an earlier tick it plays on
    /// from there, with the values that count now. Ticks beyond 0.25 s at once are left out.
    void play(Duration real);
    /// Pauses, or goes on.
    void pause(bool is_paused);
    bool is_paused() const { return paused_; } ///< time stands still
    /// Sets the speed, as a factor; clamped to 1/16 to 4.
    void set_speed(double speed);
    double speed() const { return speed_; } ///< factor for real time
    /// Goes to the start of a tick that is kept: see oldest() and newest(). Returns false if it is not.
    bool seek(Tick tick);
    /// Goes one tick on, paused: to the next one that is kept, or plays a new one.
    void step();

    Tick oldest() const;                    ///< first tick to go back to
    Tick newest() const { return newest_; } ///< the next tick that was never played
    Tick tick_of(Time at) const;            ///< tick in which `at` lies
    /// Returns the time that a picture shows: up to a tick before the fight's.
    Time shown() const;

    /// Takes values from the next tick on. Says why if the fight does not take them.
    Outcome retune(std::shared_ptr<const Arsenal> arsenal);

    const Skirmish& fight() const { return *fight_; }           ///< the fight
    std::span<const Bot> bots() const { return bots_->bots(); } ///< bots with their knowledge
    BodyId player() const { return BodyId{1}; }                 ///< the player's combatant
    const std::string& name_of(BodyId who) const;               ///< "canopy-1"; "nobody" for others
    const GameData& data() const { return *data_; }             ///< as it began
    /// Returns the events of the ticks of the last play() or step(), in order.
    std::span<const Event> events() const { return events_; }

  private:
    struct Kept {
        Tick tick = 0;
        std::shared_ptr<const Arsenal> counting{};
        std::vector<std::byte> state{};
        Bots bots;
    };
    struct Rail {
        BodyId target = nobody;
        Vector3 from = Vector3::Zero();
        Vector3 to = Vector3::Zero();
    };
    struct Played {
        Intent intent{};
        std::shared_ptr<const Arsenal> retuned{}; // before the tick
    };
    void advance(const Played& played);
    void play_tick();
    void lay_rails();
    void stand_targets_up();
    void forget_later();
    void keep_state();
    void forget_arsenals();

    std::shared_ptr<const GameData> data_;
    BoutSetup setup_{};
    std::vector<BoutMember> members_;
    std::size_t targets_;
    std::vector<Rail> rails_{};
    std::unique_ptr<Skirmish> fight_;
    std::optional<Bots> bots_;
    std::deque<Kept> kept_{};
    std::deque<Played> played_{};               ///< from the first kept tick on
    std::shared_ptr<const Arsenal> wanted_{};   ///< values that count from the next tick on
    std::shared_ptr<const Arsenal> counting_{}; ///< values of the fight
    std::vector<Event> events_{};
    std::size_t max_kept_;
    std::size_t new_arsenals_ = 0; ///< since some were forgotten
    Tick newest_ = 0;
    Duration owed_{}; ///< time that is not yet a tick
    double speed_ = 1.0;
    bool paused_ = false;
};

} // namespace avrek::playground
