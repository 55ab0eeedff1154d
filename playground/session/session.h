#pragma once
#include "edited_curve.h"
#include "firing_board.h"
#include "killing_times.h"
#include "linked_fight.h"
#include "picture.h"
#include "script.h"
#include "seen.h"
#include "stage.h"
#include "tuner.h"
#include <avrek/data/arsenal_watch.h>

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

/// A playground without its window: the fight, the values, the picture and the script together.
namespace avrek::playground {

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
    void set(const std::string& path, double value, bool goes_on = false) { set({{path, value}}, goes_on); }
    /// Changes several values at once.
    void set(const std::map<std::string, double>& values, bool goes_on = false);
    /// Moves a point of a curve or a pattern to where it is wanted in its drawing.
    void move_point(const EditedCurve& curve, std::size_t index, CurvePoint wanted, bool goes_on = false);
    /// Changes values to those of an overlay, from a file. The notice says why if that is not possible.
    void apply(const std::string& overlay_file);
    /// Sets the overlays that the command `next-preset` and the panel offer.
    void offer_presets(std::vector<std::string> files) { presets_ = std::move(files); }
    /// Plays over a link from now on; the fight alone waits where it is. A link that is there changes, or
    /// begins anew. The notice says why if the present values do not allow a fight.
    void connect(const LinkSettings& link);
    /// Joins a server elsewhere, as the player that the ticket of its transport names.
    void join(BodyId who, const ClientSettings& settings, std::unique_ptr<Transport> host);
    /// Plays alone again.
    void disconnect();
    /// Goes to a tick, paused.
    void seek(Tick tick);
    /// Tunes another entry in the panel; one that does not exist changes nothing.
    void tune(const std::string& entry);

    /// Returns the fight that is seen: over the link once the player is let in, else alone.
    const Skirmish& fight() const { return is_linked() ? linked_->you().fight() : stage_.fight(); }
    BodyId player() const; ///< the player's combatant
    /// Returns the name of a combatant, over a link as the server says it.
    std::string name_of(BodyId who) const;
    /// Returns the score of a team, over a link as the server says it.
    std::int64_t team_score(TeamId team) const;
    Controls& controls() {
        return linked_ != nullptr ? linked_->you().controls : stage_.controls;
    } ///< inputs
    /// Returns the inputs.
    const Controls& controls() const {
        return linked_ != nullptr ? linked_->you().controls : stage_.controls;
    }
    /// Returns the time of the picture.
    Time picture_time() const { return is_linked() ? linked_->you().shown(linked_->now()) : stage_.shown(); }
    /// Returns what has happened in the last advance().
    std::span<const Event> events() const { return is_linked() ? linked_->you().events() : stage_.events(); }
    /// Returns whether the player is let in.
    bool is_linked() const { return linked_ != nullptr && linked_->you().is_playing(); }
    /// Returns the fight over the link, or null.
    const LinkedFight* linked() const { return linked_.get(); }
    const LinkSettings& link() const { return link_; } ///< link that is there, or the next one
    Seen seen() const;                                 ///< content of the player's picture
    /// Returns the content of the second player's picture: over a link, if `show-second` or `second-window`
    /// is on.
    std::optional<Seen> second_seen() const;

    Stage& stage() { return stage_; }                   ///< the fight
    const Stage& stage() const { return stage_; }       ///< the fight
    const Tuner& tuner() const { return tuner_; }       ///< the values
    const Picture& picture() const { return picture_; } ///< things that events left to be drawn
    View view() const { return view_; }                 ///< where it is seen from
    const FiringBoard& board() const { return board_; } ///< to shoot at
    /// Returns whether a thing is shown. Precondition (asserted): is_switch().
    bool shows(Command what) const;
    bool shows_all_keys() const { return all_keys_; }                    ///< in the panel
    const std::vector<std::string>& presets() const { return presets_; } ///< files of overlays
    const std::string& entry() const { return entry_; }                  ///< tuned in the panel
    /// Returns the numbers of that entry, with the values that count now.
    const std::vector<ArsenalNumber>& numbers() const { return numbers_; }
    /// Returns the curves and patterns among them.
    const std::vector<EditedCurve>& curves() const { return curves_; }
    /// Returns the numbers of the link, and how far the server rewinds.
    std::vector<ArsenalNumber> link_numbers() const;
    const std::string& selected() const { return selected_; } ///< path of the number that keys change
    /// Returns the changed values against the first.
    const std::vector<ArsenalDifference>& differences() const { return differences_; }
    /// Returns whether there are changed values that no saved overlay has.
    bool has_unsaved() const;
    /// Asks to end. Returns whether it may: with changes that are not saved only when it is asked again.
    bool may_end();
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
    void do_command(Command command);
    void do_value_command(Command command);
    void take_faults(const std::vector<Diagnostic>& faults);
    void turn_entry(std::ptrdiff_t by);
    void put_up_board();
    void select_number(std::ptrdiff_t by);
    void nudge_number(double sign);
    void nudge_point(double sign);
    void go_to_moment(bool next);
    std::vector<ArsenalNumber> reachable_numbers() const;
    void want_link(const LinkSettings& link);
    void take_values();
    void show_entry();
    void tell_server();
    void play_over_link(Duration real);
    void take_events();
    void look_at_files();
    void save();

    Stage stage_;
    StageSettings settings_;
    Tuner tuner_;
    std::unique_ptr<LinkedFight> linked_{};
    LinkSettings link_{};
    LinkSettings link_wanted_{};      ///< as the sliders are
    std::optional<Time> begins_at_{}; ///< when the link that is wanted begins anew
    Picture second_picture_{};
    bool is_to_tell_ = false; ///< the server does not have the values yet
    Time tells_at_{};
    Picture picture_{};
    KillAnswers answers_{};
    std::vector<ScriptStep> script_{};
    std::size_t next_ = 0;
    std::optional<ArsenalWatch> watch_{};
    View view_ = View::eye;
    std::uint32_t shown_ = 0; ///< bit n: the n-th thing that can be shown
    bool all_keys_ = false;
    FiringBoard board_{};
    std::vector<std::string> presets_{};
    std::size_t next_preset_ = 0;
    std::string entry_{};
    std::vector<ArsenalNumber> numbers_{};
    std::vector<EditedCurve> curves_{};
    std::string selected_{};
    std::vector<ArsenalDifference> differences_{};
    std::string notice_{};
    std::string overlay_file_ = "tuned.toml";
    std::string saved_{};        ///< text of the last overlay
    std::string asked_to_end_{}; ///< text of the overlay that would be lost, when it was asked
    Time clock_{};
    Duration since_look_{};
};

} // namespace avrek::playground
