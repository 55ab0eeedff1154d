#include "link_trial_impl.h"

#include <algorithm>
#include <cassert>
#include <utility>

namespace avrek {

namespace {

constexpr Duration step_length = std::chrono::milliseconds{1};

} // namespace

LinkTrial::Impl::Impl(const GameData& its_data, const LinkTrialSetup& its_setup, std::uint64_t seed)
    : data(its_data), setup(its_setup), issuer(make_keys()), network(seed) {
    assert(!setup.links.empty());
    const std::vector<BoutMember> members = bout_members(setup.bout);
    ServerSettings settings;
    settings.skirmish = setup.skirmish;
    settings.skirmish.limits.combatants = std::max(setup.skirmish.limits.combatants, members.size());
    settings.issuer = issuer.open;
    settings.private_seed = setup.private_seed;
    settings.interest = setup.interest;
    settings.budget = setup.budget;
    for (const BoutMember& member : members) {
        settings.slots.push_back(
            {member.id, member.name, member.team, setup.bout.body, setup.bout.melee, member.weapons, {}});
    }
    server = std::make_unique<Server>(data, settings, seed, network.server());
    bots.emplace(server->skirmish());
    for (std::size_t index = 0; index < members.size(); ++index) {
        detail::TrialClient one;
        one.report.member = members[index];
        one.report.link = setup.links[index % setup.links.size()];
        one.joined_at = Time{index < setup.joins.size() ? setup.joins[index] : Duration{}};
        one.clock = std::chrono::milliseconds{137} * static_cast<int>(index);
        one.fires = index + setup.pacifists < members.size();
        clients.push_back(std::move(one));
    }
}

void LinkTrial::Impl::join(detail::TrialClient& one) {
    one.transport =
        &network.connect(one.report.link, issue_credentials(issuer, {.match = 1,
                                                                     .player = one.report.member.id,
                                                                     .expires = 1'000'000,
                                                                     .server = network.server_key()}));
    std::uint32_t last = 0;
    for (const detail::TrialClient& other : clients) {
        last = std::max(last, static_cast<std::uint32_t>(other.peer));
    }
    one.peer = PeerId{last + 1};
    one.joined_at = network.now();
    const std::vector<LedgerEntry> entries = server->ledger().entries();
    one.ledger_size =
        static_cast<std::size_t>(std::count_if(entries.begin(), entries.end(), [](const LedgerEntry& entry) {
            return entry.property != "health";
        })); // not told of all
    ClientSettings settings;
    settings.interpolation = setup.interpolation;
    settings.locomotions = setup.skirmish.locomotions;
    settings.poses = setup.skirmish.poses;
    one.client = std::make_unique<Client>(data, settings, *one.transport);
    one.bots = bots;
    one.bots->add(one.report.member.id, one.report.member.shooter);
}

void LinkTrial::Impl::tick_client(detail::TrialClient& one, Time now) {
    const std::span<const Intent> wanted = one.bots->think(one.client->view());
    Intent intent = wanted.empty() ? Intent{} : wanted.front();
    if (!one.fires) {
        intent.buttons.set(Button::trigger, false);
        intent.strike = -1;
    }
    measure(one, one.client->tick(intent), now);
}

void LinkTrial::Impl::run_clients(Time now) {
    for (detail::TrialClient& one : clients) {
        if (!one.client) {
            if (one.joined_at > now) {
                continue;
            }
            join(one);
        }
        const Time local = now + one.clock;
        measure(one, one.client->receive(local), now);
        while (one.client->is_tick_due(local)) {
            tick_client(one, now);
        }
    }
}

LinkTrial::LinkTrial(const GameData& data, const LinkTrialSetup& setup, std::uint64_t seed)
    : impl_(std::make_unique<Impl>(data, setup, seed)) {}

LinkTrial::~LinkTrial() = default;

std::span<const Event> LinkTrial::step() {
    wait();
    return tick();
}

void LinkTrial::wait() {
    Impl& run = *impl_;
    const Time due = run.server->skirmish().now();
    while (run.network.now() < due) {
        const Time next = std::min(due, run.network.now() + step_length);
        run.network.advance(next);
        run.run_clients(next);
    }
}

std::span<const Event> LinkTrial::tick() {
    Impl& run = *impl_;
    const Time due = run.server->skirmish().now();
    const auto seconds = std::chrono::duration_cast<std::chrono::seconds>(due.time_since_epoch()).count();
    const std::span<const Event> events = run.server->tick(seconds);
    run.measure_server(events);
    return events;
}

const Server& LinkTrial::server() const {
    return *impl_->server;
}

Server& LinkTrial::server() {
    return *impl_->server;
}

LinkNetwork& LinkTrial::network() {
    return impl_->network;
}

const Client& LinkTrial::client(std::size_t player) const {
    assert(impl_->clients[player].client);
    return *impl_->clients[player].client;
}

LinkTrialReport LinkTrial::finish() {
    Impl& run = *impl_;
    // Reliable messages arrive in the end, however often they are lost.
    for (int more = 0; more < 60'000; more += 10) {
        run.network.advance(run.network.now() + std::chrono::milliseconds{10});
        bool all = true;
        for (detail::TrialClient& one : run.clients) {
            if (one.client) {
                run.measure(one, one.client->receive(run.network.now() + one.clock), run.network.now());
                all = all && (one.client->state() != ClientState::playing || run.has_all(one));
            }
        }
        if (all && more >= 2'000) {
            break;
        }
    }
    LinkTrialReport report;
    for (detail::TrialClient& one : run.clients) {
        run.finish_player(one);
        report.players.push_back(one.report);
    }
    report.ticks = run.server->skirmish().tick();
    report.over = run.server->skirmish().is_over();
    report.kills = run.kill_count;
    report.killed_in_cover = run.killed_in_cover;
    return report;
}

} // namespace avrek
