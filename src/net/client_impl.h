#pragma once
#include "client_clock.h"
#include "own_state.h"
#include "seen_flights.h"
#include "seen_motions.h"
#include "wire.h"
#include <avrek/net/client.h>
#include <avrek/skirmish/blended_poses.h>

#include <array>
#include <deque>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace avrek {

namespace detail {
/// Returns a body of a snapshot as a player sees it.
SeenPlayer seen_player(const SeenBody& body);
} // namespace detail

struct Client::Impl {
    Impl(const GameData& its_data, const ClientSettings& its_settings, Transport& its_transport)
        : data(its_data), plan(data.arena.plan), settings(its_settings), transport(its_transport) {}

    /// A tick that was predicted: what was wanted, and what had come of it by its end.
    struct Past {
        Tick tick = -1;
        Intent intent{};
        std::vector<GameCommand> commands{};
        detail::OwnState own{};
        std::vector<std::byte> saved{};
        std::size_t counted = 0; ///< steps of tuning by then
    };
    /// Everybody, and the own state, as the server has said.
    struct Moment {
        Tick tick = -1;
        std::vector<detail::SeenBody> bodies{}; ///< as they were told last
        std::vector<detail::SeenBody> drawn{};  ///< those that were left out have moved on
        detail::OwnState own{};
        GameBytes<32> game{}; ///< game bytes of the own intent
        Duration view_delay{};
    };

    /// A step of the arsenal, and when it counts.
    struct Tuning {
        Tick tick = 0;
        std::shared_ptr<const Arsenal> arsenal{};
    };

    const GameData& data;
    LevelPlan plan; ///< without hazards and pickups, which are the server's
    ClientSettings settings;
    Transport& transport;

    ClientState state = ClientState::connecting;
    std::string reason{};
    std::vector<std::string> differing{};
    std::vector<std::byte> packet{}; // room to work in
    detail::WelcomeMessage welcome{};
    std::optional<Ticket> return_ticket{};

    std::optional<Skirmish> own{};  ///< its own combatant alone
    std::optional<Skirmish> view{}; ///< with all remote players
    std::optional<Scene> picture{};
    std::optional<detail::SeenFlights> flights{}; ///< the projectiles of remote players
    std::vector<Notice> unshown{};                ///< until the picture comes to their time
    std::vector<detail::WordKind> own_kinds{};
    std::array<Past, 256> past{};
    std::array<Moment, 64> moments{};
    detail::SeenMotions motions{};
    Tick newest = -1; ///< moment
    Time local{};
    detail::OwnClock own_clock{};
    Duration view_delay{};                 ///< age of the picture, as the server assigns it
    Vector3 offset = Vector3::Zero();      ///< offset of the drawn body
    std::vector<OwnEvent> pending{};       ///< shown before the server has confirmed them
    std::deque<std::uint64_t> withdrawn{}; ///< ids, of late
    std::vector<PickupState> pickups{};    ///< as they are known, by index
    std::vector<SeenWeapon> dropped{};     ///< too, in order of their numbers
    std::vector<SeenHazard> hazards{};     ///< too
    Ledger ledger{};
    bool has_new_members = true; ///< the ledger has others than the view
    Time joined{};               ///< server time
    std::function<void(const LedgerEntry&)> changed{};
    GameTickHook hook{};
    CompanionState* companion = nullptr;
    std::vector<GameCommand> commands{}; ///< for the next tick
    TunedArsenal tuned{data.texts};
    std::vector<Tuning> tunings{}; ///< in order
    std::size_t counted = 0;       ///< those that the own combatant goes by
    std::size_t shown_tunings = 0; ///< those that the view has taken
    ClientCounts counts{};
    ClientEvents events{};
    std::vector<SnapshotBody> shown{};    // room to work in
    std::vector<BodyUpdate> updates{};    // too
    std::vector<PoseRoom> update_poses{}; // too
    std::size_t posed_count = 0;          // rooms in use
    std::vector<GameAction> actions{};    // too

    Time drawn_server_time(Time own_time) const;
    /// Returns the arsenal of what is shown.
    const Arsenal& arsenal() const { return view ? view->arsenal() : data.arsenal; }
    const PoseSource& poses() const { return pose_source_or_built_in(settings.poses); }
    std::size_t index_of(Tick moment) const {
        return static_cast<std::size_t>(moment / welcome.settings.snapshot_interval) % moments.size();
    }

    void knock();
    void send(detail::MessageKind kind, Channel channel, TrafficKind traffic,
              std::span<const std::byte> body);
    void take_packet(const TransportEvent& event);
    void take_refusal(const TransportEvent& event);
    void take_welcome(std::span<const std::byte> body);
    void take_snapshot(std::span<const std::byte> body);
    void hear(const detail::SnapshotMessage& message);
    void take_notices(std::span<const std::byte> body);
    void know_plan();
    void take_thing(const Notice& notice);
    void take_pickup(const Notice& notice);
    void take_weapon(const Notice& notice);
    void take_hazard(const Notice& notice);
    void take_tuning(std::span<const std::byte> body);
    void take_answer(std::span<const std::byte> body);
    void count_tunings(Tick tick);
    void predict_again(Tick from);
    void show_tunings(Tick tick);
    void take_ledger(std::span<const std::byte> body);
    void end(ClientState how, const std::string& why);

    void show(const Moment& moment);
    void reconcile(const Moment& moment);
    void correct(const Moment& moment);
    void confirm(Tick until);
    void mark(OwnEvent event, EventMark mark);
    void predict(const Intent& intent, std::vector<OwnEvent>& did);
    void note(Tick tick);
    void add_new(std::vector<OwnEvent>& did);
    void send_intents(Tick newest_tick);
    void see();
    void keep_view_members();
    void show_notices(Time shown_time);
    void show_projectiles();
    detail::SeenBody seen_lately(BodyId id) const;
    std::optional<SeenPlayer> seen_at(BodyId id, Time at) const;
    std::span<const Pose> poses_in(const Scene& scene, BodyId id, Time at);
};

} // namespace avrek
