#pragma once
#include "killing_times.h"
#include "linked_fight.h"
#include "picture.h"
#include "script.h"
#include "stage.h"
#include "tuner.h"
#include <avrek/data/arsenal_watch.h>

#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

/// A playground without its window: the fight, the values, the picture and the script together.
namespace avrek::playground {

/// Where a picture is taken from.
enum class View : std::uint8_t { eye, behind, above };

/// Things that can be seen besides the fight.
struct Shown {
    bool regions = false;
    bool segments = false;
    bool cone = false;
    bool sight = false;
    bool help = false;
};

/// The thing in the middle of the player's picture.
struct Sighted {
    Metres distance = 0.0;
    std::string what{}; ///< "rootward-2, head", or the surface
};

/// The state of a playground.
class Session {
  public:
    /// Begins. Precondition (asserted): validate_stage() finds nothing; the data have texts.
    Session(std::shared_ptr<const GameData> data, const StageSettings& settings);

    /// Sets a script, whose times count from now on.
    void run(std::vector<ScriptStep> script);
    /// Watches files; what is saved there counts at once.
    void watch(std::vector<std::string> files);
    /// Sets the file that the command `save` writes; "tuned.toml" unless it is set.
    void save_to(std::string file) { overlay_file_ = std::move(file); }
    /// Goes on by a length of real time: does what the script says, plays, and takes events in. Returns the
    /// pictures that the script wants after it.
    std::vector<std::string> advance(Duration real);
    /// Does a command.
    void command(Command command);
    /// Changes a value; the fight has it from the next tick on. `goes_on`: the same change, as of a slider.
    void set(const std::string& path, double value, bool goes_on = false);
    /// Plays over a link from now on; the fight alone waits where it is. A link that is there changes. The
    /// notice says why if the present values do not allow a fight.
    void connect(const LinkSpec& link);
    /// Plays alone again.
    void disconnect();
    /// Goes to a tick, paused.
    void seek(Tick tick);
    /// Tunes another entry in the panel; one that does not exist changes nothing.
    void tune(const std::string& entry);

    /// Returns the fight that is seen: over the link once the player is let in, else alone.
    const Skirmish& fight() const { return is_linked() ? linked_->fight() : stage_.fight(); }
    BodyId player() const { return stage_.player(); } ///< the player's combatant
    Controls& controls() { return linked_ != nullptr ? linked_->controls : stage_.controls; } ///< inputs
    /// Returns the inputs.
    const Controls& controls() const { return linked_ != nullptr ? linked_->controls : stage_.controls; }
    Time picture_time() const {
        return is_linked() ? linked_->shown() : stage_.shown();
    } ///< time of a picture
    /// Returns what has happened in the last advance().
    std::span<const Event> events() const { return is_linked() ? linked_->events() : stage_.events(); }
    bool is_linked() const { return linked_ != nullptr && linked_->is_playing(); } ///< the player is let in
    /// Returns the fight over the link, or null.
    const LinkedFight* linked() const { return linked_.get(); }

    Stage& stage() { return stage_; }                   ///< the fight
    const Stage& stage() const { return stage_; }       ///< the fight
    const Tuner& tuner() const { return tuner_; }       ///< the values
    const Picture& picture() const { return picture_; } ///< things that events left to be drawn
    View view() const { return view_; }                 ///< where it is seen from
    const Shown& shown() const { return shown_; }       ///< switches of things that are drawn too
    const std::string& entry() const { return entry_; } ///< tuned in the panel
    /// Returns the numbers of that entry, with the values that count now.
    const std::vector<ArsenalNumber>& numbers() const { return numbers_; }
    /// Returns the changed values against the first.
    const std::vector<ArsenalDifference>& differences() const { return differences_; }
    const std::string& notice() const { return notice_; } ///< last fault or news, in words
    std::shared_ptr<const KillAnswer> killing_times() const { return answers_.newest(); } ///< or null
    /// Waits for the killing times of the present values.
    void wait_for_killing_times() const { answers_.wait(); }
    Time clock() const { return clock_; } ///< real time since the start
    /// Returns what the player's look, recoil included, is on within 200 m.
    std::optional<Sighted> sighted() const;
    /// Returns the state as JSON: tick, hash, health, rounds, changes, view; for tests.
    std::string report() const;

  private:
    void do_step(const ScriptStep& step, std::vector<std::string>& shots);
    void take_values();
    void show(Command what);
    void show_entry();
    void tell_server();
    void take_events();
    void look_at_files();
    void save();

    Stage stage_;
    StageSettings settings_;
    Tuner tuner_;
    std::unique_ptr<LinkedFight> linked_{};
    LinkSpec link_{};
    bool is_to_tell_ = false; ///< the server does not have the values yet
    Time tells_at_{};
    Picture picture_{};
    KillAnswers answers_{};
    std::vector<ScriptStep> script_{};
    std::size_t next_ = 0;
    std::optional<ArsenalWatch> watch_{};
    View view_ = View::eye;
    Shown shown_{};
    std::string entry_{};
    std::vector<ArsenalNumber> numbers_{};
    std::vector<ArsenalDifference> differences_{};
    std::string notice_{};
    std::string overlay_file_ = "tuned.toml";
    Time clock_{};
    Duration since_look_{};
};

} // namespace avrek::playground
