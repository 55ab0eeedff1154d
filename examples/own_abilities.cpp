// Abilities of the game's own over a network: a wall of crates, a grappling vine and a healing beam, decided
// by one function that the server and the predicting clients run, recorded by the server and replayed.
//
//     own_abilities data/halm-ring.toml [FILE.replay]
#include <avrek/avrek.h>

#include <array>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <vector>

using namespace avrek;

namespace {

constexpr std::uint16_t put_wall = 1; // the command of that name
constexpr Button vine = game_button(0);
constexpr Button beam = game_button(1);
enum Tag : std::uint32_t { wall_up = 1, vine_pulls, beam_heals };

constexpr Tick wall_stands = 4 * 64;
constexpr Tick vine_pause = 2 * 64;

// Memory of the abilities, for up to four players. It is rolled back, recorded and replayed with the
// fight.
struct Abilities final : CompanionState {
    struct Player {
        Tick wall_until = 0; // 0: none stands
        Tick vine_ready = 0;
    };
    std::array<Player, 4> players{};

    Player& of(BodyId who) { return players[static_cast<std::size_t>(who) % players.size()]; }
    std::size_t size() const override { return sizeof players; }
    void save(std::span<std::byte> to) const override { std::memcpy(to.data(), &players, sizeof players); }
    bool restore(std::span<const std::byte> from) override {
        const bool fits = from.size() == sizeof players;
        std::memcpy(&players, from.data(), fits ? sizeof players : 0);
        return fits;
    }
    std::uint64_t hash() const override { return bytes_check(std::as_bytes(std::span{players})); }
};

BodyId wall_of(BodyId who) {
    return BodyId{100 + static_cast<std::uint32_t>(who)};
}

// Pulls a player to what it looks at, up to 20 m away. It needs the level alone, so clients predict it.
void pull(GameTick& turn, const Intent& intent, Abilities& abilities) {
    Abilities::Player& player = abilities.of(intent.who);
    const Fighter& self = *turn.fight.find(intent.who);
    if (!intent.buttons.has(vine) || turn.fight.tick() < player.vine_ready) {
        return;
    }
    const Ray sight{self.motion.position + Vector3{0, 1.6, 0}, direction_of({intent.yaw, intent.pitch}),
                    20.0};
    if (const auto hit = turn.fight.scene().closest_hit({sight}, {.hits = {CollisionLayer::level}})) {
        player.vine_ready = turn.fight.tick() + vine_pause;
        turn.actions.push_back(
            {.at = turn.fight.now(),
             .by = intent.who,
             .tag = vine_pulls,
             .what = PushAction{.who = intent.who, .velocity = 9.0 * sight.direction + Vector3{0, 3, 0}}});
    }
}

// Heals the nearest mate within 8 m, four times a second. A client knows no others: only the server does it.
void heal(GameTick& turn, const Intent& intent) {
    const Match& match = turn.fight.match();
    const Vector3& here = turn.fight.find(intent.who)->motion.position;
    if (!intent.buttons.has(beam) || turn.predicts || turn.fight.tick() % 16 != 0) {
        return;
    }
    const Fighter* nearest = nullptr;
    for (const Fighter& other : turn.fight.fighters()) {
        const Combatant& who = *match.find(other.id);
        const double distance = (other.motion.position - here).norm();
        const bool is_mate = other.id != intent.who && who.role == Role::combatant &&
                             who.team == match.find(intent.who)->team && distance < 8.0;
        if (is_mate && (nearest == nullptr || distance < (nearest->motion.position - here).norm())) {
            nearest = &other;
        }
    }
    if (nearest != nullptr) {
        turn.actions.push_back({.at = turn.fight.now(),
                                .by = intent.who,
                                .tag = beam_heals,
                                .what = HealAction{.who = nearest->id, .source = intent.who, .points = 3}});
    }
}

// A crate ahead of the player that stops shots until its time is over.
void raise_wall(GameTick& turn, BodyId who, BodySpecId crate, Abilities& abilities) {
    Abilities::Player& player = abilities.of(who);
    const Fighter* self = turn.fight.find(who);
    if (self != nullptr && player.wall_until == 0) {
        player.wall_until = turn.fight.tick() + wall_stands;
        turn.actions.push_back({.at = turn.fight.now(),
                                .by = who,
                                .tag = wall_up,
                                .what = EnterAction{.who = wall_of(who),
                                                    .team = turn.fight.match().find(who)->team,
                                                    .body = crate,
                                                    .role = Role::prop,
                                                    .is_placed = true,
                                                    .position = self->motion.position +
                                                                2.0 * direction_of({self->look.yaw, 0})}});
    }
}

// The game's turn: the same on the server and on every client.
GameTickHook turn_of(Abilities& abilities, const BodySpecId& crate) {
    return [&abilities, &crate](GameTick& turn) {
        for (const GameCommand& command : turn.commands) {
            if (command.kind == put_wall) {
                raise_wall(turn, command.who, crate, abilities);
            }
        }
        for (const Intent& intent : turn.intents) {
            if (turn.fight.find(intent.who) != nullptr) {
                pull(turn, intent, abilities);
                heal(turn, intent);
            }
        }
        for (std::uint32_t id = 0; id < abilities.players.size(); ++id) {
            Tick& until = abilities.players[id].wall_until;
            if (until != 0 && turn.fight.tick() >= until) {
                until = 0;
                turn.actions.push_back({.what = LeaveAction{wall_of(BodyId{id})}});
            }
        }
    };
}

struct Player {
    std::unique_ptr<Client> client;
    std::unique_ptr<Abilities> abilities = std::make_unique<Abilities>();
    std::array<int, 4> predicted{}; // by tag
    std::array<int, 4> withdrawn{};
    std::array<int, 4> told{};

    void count(const ClientEvents& events) {
        for (const OwnEvent& event : events.own) {
            if (const auto* action = std::get_if<ActionEvent>(&event.event)) {
                predicted[action->tag] += event.mark == EventMark::predicted ? 1 : 0;
                withdrawn[action->tag] += event.mark == EventMark::withdrawn ? 1 : 0;
            }
        }
        for (const Notice& notice : events.notices) {
            told[notice.number % 4] += notice.kind == NoticeKind::action ? 1 : 0;
        }
    }
    void frame(Time clock) {
        count(client->receive(clock));
        while (client->is_tick_due(clock)) {
            const Tick tick = client->predicted().tick();
            const bool first = client->you() == BodyId{1};
            Intent intent{.yaw = static_cast<float>(0.02 * static_cast<double>(tick % 300)), .ahead = 0.5F};
            intent.buttons.set(Button::trigger, !first && tick % 64 < 24);
            intent.buttons.set(Button::reload, tick % 512 > 500);
            intent.buttons.set(vine, tick % 200 > 190);
            intent.buttons.set(beam, first);
            if (tick % 400 == 100) {
                client->command(put_wall);
            }
            count(client->tick(intent));
        }
    }
};

} // namespace

int main(int count, char** words) {
    const std::vector<std::string> files{count > 1 ? words[1] : "data/halm-ring.toml"};
    const std::string file =
        count > 2 ? words[2] : (std::filesystem::temp_directory_path() / "own_abilities.replay").string();
    Loaded<GameData> data = load_game_data(files);
    const auto crew = data ? data->arsenal.body("crew") : std::nullopt;
    const auto crate = data ? data->arsenal.body("crate") : std::nullopt;
    const auto rifle = data ? data->arsenal.weapon("thorn-rifle") : std::nullopt;
    if (!crew || !crate || !rifle) {
        std::fprintf(stderr, "the arsenal needs a crew, a crate and a thorn-rifle\n");
        return 2;
    }
    data->arena.level = Level{{{HalfSpace{world_up(), 0.0}},
                               {Box{{{0, 2, 0}, Rotation::Identity()}, {14, 2, 0.3}}},
                               {Box{{{12, 2, 10}, Rotation::Identity()}, {0.3, 2, 8}}}}};
    data->arena.plan = {};
    data->arena.plan.spawns = {
        {{-4, 0, 6}, 0.0, TeamId{0}}, {{0, 0, 8}, 0.0, TeamId{0}}, {{4, 0, 14}, pi, TeamId{1}}};

    const KeyPair issuer = make_keys();
    ServerSettings settings{.issuer = issuer.open};
    for (std::uint32_t id = 1; id <= 3; ++id) {
        settings.slots.push_back({.player = BodyId{id},
                                  .team = TeamId{static_cast<std::uint8_t>(id / 3)},
                                  .body = *crew,
                                  .weapons = {*rifle}});
    }
    LinkNetwork network{7};
    Server server{*data, settings, 3, network.server()};
    Abilities abilities;
    server.skirmish().set_companion(&abilities);
    server.on_tick(turn_of(abilities, *crate));
    std::vector<Player> players(3);
    for (std::size_t index = 0; index < players.size(); ++index) {
        const TicketClaims claims{.match = settings.match,
                                  .player = settings.slots[index].player,
                                  .expires = 3600,
                                  .server = network.server_key()};
        LinkSpec link{.latency = std::chrono::milliseconds{100}, .loss = index == 1 ? 0.05 : 0.0};
        players[index].client = std::make_unique<Client>(
            *data, ClientSettings{}, network.connect(link, issue_credentials(issuer, claims)));
        players[index].client->set_companion(players[index].abilities.get());
        players[index].client->on_tick(turn_of(*players[index].abilities, *crate));
    }

    ReplayWriter writer;
    (void)writer.open(file, head_of(server.skirmish(), data->digest, "", "own_abilities"));
    std::vector<std::uint64_t> hashes; // after every tick
    while (network.now() < Time{std::chrono::seconds{60}}) {
        network.advance(network.now() + std::chrono::milliseconds{2});
        for (Player& player : players) {
            player.frame(network.now());
        }
        while (server.skirmish().now() <= network.now()) {
            server.tick(network.now().time_since_epoch() / std::chrono::seconds{1});
            for (const BodyId player : server.entered()) {
                writer.add(data->arsenal, server.entrant_of(player));
            }
            writer.tick(server.skirmish(), server.intents(), {}, server.actions());
            hashes.push_back(std::as_const(server).skirmish().state_hash());
        }
    }
    for (const Diagnostic& fault : writer.close()) {
        std::fprintf(stderr, "%s\n", to_string(fault).c_str());
    }
    for (const Player& player : players) {
        std::printf(
            "player %u: walls %d predicted, %d withdrawn; vine %d predicted, %d withdrawn; told of %d "
            "walls, %d pulls, %d heals\n",
            static_cast<unsigned>(player.client->you()), player.predicted[wall_up], player.withdrawn[wall_up],
            player.predicted[vine_pulls], player.withdrawn[vine_pulls], player.told[wall_up],
            player.told[vine_pulls], player.told[beam_heals]);
    }

    // The recording needs none of the functions above: actions are input, and the abilities' state is in it.
    Abilities replayed;
    ReplayPlayer replay;
    for (const Diagnostic& fault : replay.open(file, *data, {}, &replayed)) {
        std::fprintf(stderr, "%s\n", to_string(fault).c_str());
    }
    std::size_t same = 0;
    for (replay.seek(0); replay.tick() < replay.length();) {
        replay.play();
        same += replay.fight().state_hash() == hashes[static_cast<std::size_t>(replay.tick()) - 1] ? 1 : 0;
    }
    replay.seek(1234);
    const bool found = replay.fight().state_hash() == hashes[1233];
    std::printf("%lld ticks recorded, %zu of them replay to the same state; tick 1234 by a seek is %s\n",
                static_cast<long long>(replay.length()), same, found ? "the same" : "another");
    return same == hashes.size() && found ? 0 : 1;
}
