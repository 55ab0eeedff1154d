#pragma once
#include "kill_account.h"
#include "link_settings.h"
#include "linked_player.h"
#include "stage.h"
#include <avrek/net/link_network.h>
#include <avrek/net/server.h>

#include <deque>
#include <memory>
#include <optional>
#include <string>
#include <vector>

/// The fight over a simulated link, server and clients in one process.
namespace avrek::playground {

/// Figures of the player's link over the last second.
struct LinkFigures {
    Duration round_trip{}; ///< as the server measures it; to a server elsewhere, as the transport does
    std::uint64_t corrections = 0; ///< mispredictions of the own state
    std::uint64_t withdrawn = 0;   ///< own events that the server did not confirm
    Traffic down{};                ///< from the server
    Traffic up{};                  ///< to it
    std::int32_t early = 0; ///< ticks by which the player's intents reach the server early; unknown of a
                            ///< server elsewhere
};

/// Where the server rewound a target to, for a shot by a player.
struct Ghost {
    BodyId who = nobody;
    Time since{}; ///< true time
    std::vector<PosedShape> parts{};
};

/// A server with bots and two clients, the player's and a second one that a bot plays, in virtual time: the
/// same inputs give the same fight. Or the player's client alone, with a server elsewhere.
class LinkedFight {
  public:
    /// Starts the server and connects. `texts` are those of the data's arsenal. Precondition (asserted):
    /// validate_stage() finds nothing.
    LinkedFight(std::shared_ptr<const GameData> data, const StageSettings& settings,
                const LinkSettings& link);
    /// Joins a server elsewhere, as the player that the ticket of the transport names.
    LinkedFight(std::shared_ptr<const GameData> data, BodyId who, const ClientSettings& settings,
                std::unique_ptr<Transport> host);
    ~LinkedFight(); ///< leaves
    LinkedFight(const LinkedFight&) = delete;
    LinkedFight& operator=(const LinkedFight&) = delete;

    /// Goes on by a length of time; lengths beyond 0.25 s are left out.
    void play(Duration real);
    /// Changes the links; packets on their way are not affected. Precondition (asserted): not begins_anew(),
    /// and it has a server of its own.
    void change(const LinkSettings& link);
    /// Changes values for all, in one tick. Returns that tick, or why not.
    /// Precondition (asserted): it has a server of its own.
    [[nodiscard]] Loaded<Tick> retune(TuningStep step);
    /// Asks the server elsewhere for a change. Says why not if that cannot be asked.
    Outcome propose(const TuningStep& step) { return you_->propose(step); }

    LinkedPlayer& you() { return *you_; }             ///< the player
    const LinkedPlayer& you() const { return *you_; } ///< the player
    /// Returns the second player, a foe; null in a fight of one.
    const LinkedPlayer* second() const { return second_.get(); }
    /// Returns the fight that counts; null if the server is elsewhere.
    const Skirmish* server() const { return server_ != nullptr ? &server_->skirmish() : nullptr; }
    const LinkSettings& link() const { return link_; } ///< as it was set
    Time now() const { return network_.now(); }        ///< true time
    /// Returns the figures of each of the last seconds, at most 60, the newest last.
    const std::deque<LinkFigures>& figures() const { return figures_; }
    /// Returns where targets were rewound to in the last second.
    const std::deque<Ghost>& ghosts() const { return ghosts_; }
    const KillAccounts& accounts() const { return accounts_; } ///< kills told three ways

  private:
    std::unique_ptr<LinkedPlayer> connect(const BoutMember& member, const LinkSpec& link);
    void go_on(Duration length);
    void tick_server();
    void add_ghosts(const ShotEvent& shot);
    void note_figures();

    std::shared_ptr<const GameData> data_;
    BoutSetup setup_;
    std::vector<BoutMember> members_;
    LinkSettings link_;
    LinkNetwork network_; ///< its time is the true time
    std::unique_ptr<Transport> host_{};
    KeyPair issuer_;
    std::unique_ptr<Server> server_{};
    std::optional<Bots> bots_{};
    std::unique_ptr<LinkedPlayer> you_{};
    std::unique_ptr<LinkedPlayer> second_{};
    KillAccounts accounts_{};
    std::deque<Ghost> ghosts_{};
    std::deque<LinkFigures> figures_{};
    LinkFigures before_{}; ///< totals at the last figures
    Time next_figures_{};
    Duration owed_{};
};

} // namespace avrek::playground
