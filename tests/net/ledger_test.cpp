// Ledgers, notices and tickets by themselves.
#include "../rounds.h"
#include <avrek/net/ledger.h>
#include <avrek/net/notices.h>
#include <avrek/net/tickets.h>
#include <avrek/net/traffic.h>

#include <gtest/gtest.h>

#include <cmath>
#include <limits>
#include <random>
#include <set>

namespace avrek {
namespace {

// One ledger is changed at random, another by what take_changes() says of it.
TEST(Ledger, AnotherThatIsToldTheChangesIsTheSame) {
    std::mt19937_64 random{1};
    const char* const properties[] = {"score", "lives", "name", "team"};
    Ledger server;
    Ledger client;
    for (int round = 0; round < rounds(2'000); ++round) {
        for (std::size_t change = random() % 5; change > 0; --change) {
            const BodyId subject =
                random() % 6 == 0 ? nobody : BodyId{static_cast<std::uint32_t>(random() % 4)};
            const char* const property = properties[random() % 4];
            const std::int64_t number = static_cast<std::int64_t>(random() % 3);
            switch (random() % 6) {
            case 0: {
                const bool there = server.find(subject, property) != nullptr;
                EXPECT_EQ(server.forget(subject, property), there);
                break;
            }
            case 1:
                server.forget(subject);
                break;
            case 2:
                server.set(subject, property, static_cast<double>(number));
                EXPECT_EQ(server.number(subject, property), static_cast<double>(number));
                break;
            case 3:
                server.set(subject, property, std::to_string(number));
                EXPECT_EQ(server.whole(subject, property, 77), 77) << "text is no number";
                break;
            default:
                server.set(subject, property, number);
                EXPECT_FALSE(server.set(subject, property, number)) << "it is so already";
                EXPECT_EQ(server.whole(subject, property), number);
                break;
            }
        }
        for (const LedgerEntry& entry : server.take_changes()) {
            if (entry.gone) {
                client.forget(entry.subject, entry.property);
            } else {
                client.set(entry.subject, entry.property, entry.value);
            }
        }
        ASSERT_EQ(server, client);
        EXPECT_TRUE(differences(server, client).empty());
        EXPECT_TRUE(server.take_changes().empty()) << "each change once";
    }
    Ledger late;
    for (const LedgerEntry& entry : server.entries()) {
        late.set(entry.subject, entry.property, entry.value);
    }
    EXPECT_EQ(late, server) << "entries() are all there is to know";
    late.set(BodyId{9}, "score", std::int64_t{3});
    EXPECT_EQ(differences(server, late).size(), 1U);
    EXPECT_NE(differences(server, late)[0].find("score"), std::string::npos);
}

TEST(Ledger, ComparesNumbersBitForBitAndCutsText) {
    Ledger ledger;
    EXPECT_TRUE(ledger.set(nobody, "clock", 0.0));
    EXPECT_TRUE(ledger.set(nobody, "clock", -0.0));
    const double nan = std::numeric_limits<double>::quiet_NaN();
    EXPECT_TRUE(ledger.set(nobody, "clock", nan));
    EXPECT_FALSE(ledger.set(nobody, "clock", nan));
    ledger.set(nobody, "motto", std::string(1'000, 'a'));
    EXPECT_EQ(std::get<std::string>(*ledger.find(nobody, "motto")).size(), max_ledger_text);
    EXPECT_EQ(ledger.find(nobody, "none"), nullptr);
}

// Against the plain rule: the newest of each kind and subject, sent to its audience.
TEST(NoticeBoard, TellsWhoComesLateTheNewestOfEachKind) {
    std::mt19937_64 random{2};
    struct Sent {
        Notice notice;
        Audience audience;
    };
    NoticeBoard board;
    std::vector<Sent> all;
    for (std::uint64_t id = 1; id <= 600; ++id) {
        Notice notice{.kind = static_cast<NoticeKind>(random() % notice_kind_count), .id = id};
        notice.who = BodyId{static_cast<std::uint32_t>(random() % 4)};
        const Audience audience{static_cast<AudienceKind>(random() % 4),
                                BodyId{static_cast<std::uint32_t>(random() % 4)},
                                TeamId{static_cast<std::uint8_t>(random() % 2)}};
        notice.number = static_cast<std::uint32_t>(random() % 3);
        notice.index = static_cast<std::int32_t>(random() % 3);
        const bool is_game = notice.kind == NoticeKind::game; // remembered by topic
        const bool forgets = random() % 5 == 0;
        std::erase_if(all, [&](const Sent& one) {
            return one.notice.kind == notice.kind &&
                   (is_game ? one.notice.number == notice.number : one.notice.who == notice.who);
        });
        if (forgets && is_game) {
            board.forget_topic(notice.number);
        } else if (forgets) {
            board.forget(notice.kind, notice.who);
        } else {
            board.remember(notice, audience);
            all.push_back({notice, audience});
        }
        ASSERT_EQ(board.size(), all.size());
        const BodyId listener{static_cast<std::uint32_t>(random() % 5)};
        const TeamId team{static_cast<std::uint8_t>(random() % 2)};
        std::vector<Notice> expected;
        for (const Sent& one : all) {
            const bool told = one.audience.kind == AudienceKind::all ||
                              (one.audience.kind == AudienceKind::all_but && one.audience.who != listener) ||
                              (one.audience.kind == AudienceKind::one && one.audience.who == listener) ||
                              (one.audience.kind == AudienceKind::team && one.audience.team == team);
            if (told) {
                expected.push_back(one.notice);
            }
        }
        ASSERT_EQ(board.for_listener(listener, team), expected);
    }
}

// A ticket lets its bearer in once, and no other bytes do.
TEST(Tickets, OpenOnceAndOnlyAsTheyWereSigned) {
    std::mt19937_64 random{3};
    const KeyPair issuer = make_keys();
    const KeyPair server = make_keys();
    for (std::uint32_t player = 0; player < static_cast<std::uint32_t>(rounds(40)); ++player) {
        const TicketClaims claims{5, BodyId{player}, 100, 0, server.open, server.open};
        const Ticket ticket = issue_ticket(issuer, claims);
        const auto said = read_ticket(ticket);
        ASSERT_TRUE(said);
        EXPECT_EQ(said->player, claims.player);
        EXPECT_NE(said->number, 0U) << "a number of its own";
        TicketCheck check{{issuer.open}, 5, server.open};
        TicketClaims found;
        for (std::size_t at = 0; at < ticket.size(); ++at) {
            Ticket forged = ticket;
            forged[at] ^= static_cast<std::byte>(1U << (random() % 8));
            EXPECT_NE(check.admit(forged, server.open, 50, found), TicketFault::none) << at;
        }
        EXPECT_EQ(check.admit(std::span{ticket}.first(100), server.open, 50, found), TicketFault::malformed);
        TicketCheck elsewhere{{issuer.open}, 6, server.open};
        EXPECT_EQ(elsewhere.admit(ticket, server.open, 50, found), TicketFault::other_match);
        TicketCheck stranger{{make_keys().open}, 5, server.open};
        EXPECT_EQ(stranger.admit(ticket, server.open, 50, found), TicketFault::forged);
        EXPECT_EQ(check.admit(ticket, server.open, 100, found), TicketFault::expired);
        EXPECT_EQ(check.admit(ticket, server.open, 99, found), TicketFault::none);
        EXPECT_EQ(found, *said);
        EXPECT_EQ(check.admit(ticket, server.open, 99, found), TicketFault::used);
    }
}

TEST(Traffic, AddsUpAndFaultsKnowTheGuiltyOnes) {
    Traffic traffic;
    std::uint64_t bytes = 0;
    for (std::size_t kind = 0; kind < traffic_kind_count; ++kind) {
        for (std::size_t size = 1; size < 50; size += 7) {
            traffic.add(static_cast<TrafficKind>(kind), size);
            bytes += size;
        }
        EXPECT_FALSE(to_string(static_cast<TrafficKind>(kind)).empty());
    }
    EXPECT_EQ(traffic.all_bytes(), bytes);
    EXPECT_EQ(traffic.all_packets(), 7 * traffic_kind_count);
    const std::set<PeerFault> innocent{PeerFault::too_late, PeerFault::too_early};
    for (std::size_t index = 0; index < peer_fault_count; ++index) {
        const auto fault = static_cast<PeerFault>(index);
        FaultCounts counts;
        counts[fault] = 3;
        EXPECT_EQ(counts.guilty(), innocent.contains(fault) ? 0U : 3U) << to_string(fault);
        counts += counts;
        EXPECT_EQ(std::as_const(counts)[fault], 6U);
    }
    for (std::size_t kind = 0; kind < notice_kind_count; ++kind) {
        EXPECT_FALSE(to_string(static_cast<NoticeKind>(kind)).empty());
    }
}

} // namespace
} // namespace avrek
