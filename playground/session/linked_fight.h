#pragma once
#include "stage.h"
#include <avrek/net/client.h>
#include <avrek/net/link_network.h>
#include <avrek/net/server.h>

#include <deque>
#include <memory>
#include <string>
#include <vector>

/// The fight over a simulated link, server and client in one process.
namespace avrek::playground {

/// Figures of a link over the last second.
struct LinkFigures {
    Duration round_trip{};         ///< as the server measures it
    std::uint64_t corrections = 0; ///< mispredictions of the own state
    std::uint64_t withdrawn = 0;   ///< own events that the server did not confirm
    double down = 0.0;             ///< kB from the server
    double up = 0.0;               ///< kB to it
    std::int32_t early = 0;        ///< ticks by which the player's intents reach the server early
};

/// A server with bots and the player's client, in virtual time: the same inputs give the same fight.
class LinkedFight {
  public:
    /// Starts the server and connects. `texts` are those of the data's arsenal. Precondition (asserted):
    /// validate_stage() finds nothing.
    LinkedFight(std::shared_ptr<const GameData> data, const StageSettings& settings, const LinkSpec& link);

    Controls controls{}; ///< inputs of the player from its next tick on

    /// Goes on by a length of time; lengths beyond 0.25 s are left out.
    void play(Duration real);
    /// Changes the link; packets on their way are not affected.
    void change(const LinkSpec& link);
    /// Changes values for all, in one tick. Returns that tick, or why not.
    [[nodiscard]] Loaded<Tick> retune(TuningStep step) { return server_->retune(std::move(step)); }

    bool is_playing() const; ///< the player is let in
    /// Returns the fight as the player sees it. Precondition (asserted): is_playing().
    const Skirmish& fight() const { return client_->view(); }
    const Skirmish& server() const { return server_->skirmish(); } ///< the fight that counts
    BodyId player() const { return BodyId{1}; }                    ///< the player's combatant
    const LinkSpec& link() const { return link_; }                 ///< as it was set
    Time shown() const;                                            ///< time that a picture shows
    /// Returns what there is to draw of the last play(), in the player's time.
    std::span<const Event> events() const { return events_; }
    /// Returns the figures of each of the last seconds, at most 60, the newest last.
    const std::deque<LinkFigures>& figures() const { return figures_; }

  private:
    void run_client();
    void tick_server();
    void take(const ClientEvents& news);
    void take_notice(const Notice& notice);
    void take_shots(const SeenShots& shots);
    void note_figures();

    std::shared_ptr<const GameData> data_;
    BoutSetup setup_;
    std::vector<BoutMember> members_;
    LinkSpec link_;
    LinkNetwork network_;
    std::unique_ptr<Server> server_{};
    std::optional<Bots> bots_{};
    std::unique_ptr<Client> client_{};
    std::vector<Event> events_{};
    std::deque<LinkFigures> figures_{};
    std::uint64_t withdrawn_ = 0;
    LinkFigures before_{}; ///< totals at the last figures
    Time next_figures_{};
    Duration owed_{};
};

} // namespace avrek::playground
