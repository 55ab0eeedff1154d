#include "../cli/tool_rig.h"
#include "../test_data.h"

#include <session/session.h>

// The program in its window, on a display without a screen.
namespace avrek::playground {
namespace {

class Program : public Tool {
  protected:
    Answer play(const std::string& words) const {
        return shell(AVREK_SOURCE_DIR "/scripts/with_display.sh " AVREK_PLAYGROUND " " + words);
    }
    // A PNG's width and height; zeros for another file.
    std::pair<unsigned, unsigned> size_of(const std::string& name) const {
        const std::string bytes = contents(file(name));
        if (bytes.size() < 24 || bytes.substr(1, 3) != "PNG") {
            return {};
        }
        const auto number = [&bytes](std::size_t at) {
            unsigned value = 0;
            for (std::size_t index = at; index < at + 4; ++index) {
                value = value << 8U | static_cast<unsigned char>(bytes[index]);
            }
            return value;
        };
        return {number(16), number(20)};
    }
};

// The window adds nothing: a script comes to the same in it as in the session alone.
TEST_F(Program, DoesInItsWindowWhatTheSessionDoes) {
    const std::string text =
        "[[do]]\nat = 0.2\nhold = ['ahead', 'trigger']\nlook = [4, 0]\n"
        "[[do]]\nat = 0.5\nset = { 'weapon.thorn-rifle.damage' = 33 }\n"
        "press = ['show-cone', 'show-regions', 'show-segments', 'help', 'save']\n"
        "[[do]]\nat = 0.7\npress = ['next-view']\nshot = 'behind.png'\n"
        "[[do]]\nat = 0.9\npress = ['next-view', 'pause', 'step-back', 'undo', 'all-keys']\n"
        "[[do]]\nat = 1\npress = ['next-view', 'pause', 'show-recoil', 'show-blasts', 'board',"
        " 'next-number', 'larger']\nset = { 'weapon.thorn-rifle.falloff[2].y' = 0.8 }\n"
        "[[do]]\nat = 1.1\nlink = { latency = 80, their_latency = 40, loss = 2 }\n"
        "press = ['show-second', 'show-ghosts', 'show-kills', 'second-window']\n"
        "[[do]]\nat = 2\nhold = ['trigger', 'left']\nshot = 'link.png'\n"
        "[[do]]\nat = 2.2\npress = ['second-window']\nshot = 'closed.png'\n";
    write("s.toml", text);
    const Answer played = play("--crew 4 --script s.toml --exit 2.5 --report r.json --shot last.png@1");
    ASSERT_EQ(played.status, 0) << played.err;
    Session session{std::make_shared<const GameData>(
                        *load_game_data(std::vector<std::string>{AVREK_SOURCE_DIR "/data/halm-ring.toml"},
                                        AVREK_SOURCE_DIR "/data/atrium.toml")),
                    {.crew = 4, .targets = 3}};
    session.save_to(file("other.toml"));
    session.run(*parse_script(text, "s.toml"));
    while (session.clock() - Time{} < std::chrono::milliseconds{2500}) {
        session.advance(std::chrono::nanoseconds{15'625'000});
    }
    EXPECT_EQ(read_file(file("r.json")), session.report());
    EXPECT_EQ(size_of("behind.png"), (std::pair{1280U, 800U}));
    EXPECT_EQ(size_of("last.png"), (std::pair{1280U, 800U}));
    EXPECT_EQ(size_of("link.png"), (std::pair{1280U, 800U}));
    EXPECT_EQ(size_of("link-second.png"), (std::pair{640U, 480U})) << "the second player's window";
    EXPECT_EQ(size_of("closed.png"), (std::pair{1280U, 800U}));
    EXPECT_EQ(size_of("closed-second.png").first, 0U);
    EXPECT_NE(contents(file("behind.png")), contents(file("last.png")));
    EXPECT_TRUE(session.is_linked() && session.second_seen());
    EXPECT_EQ(read_file(file("tuned.toml")), "[weapon.thorn-rifle]\ndamage = 33\n");
    EXPECT_EQ(read_file(file("other.toml")), read_file(file("tuned.toml")));
}

TEST_F(Program, SaysWhatIsWrong) {
    write("s.toml", "[[do]]\nat = 1\npress = ['puase']\n");
    write("a.toml", "[weapon.w]\n");
    for (const auto& [words, said] : {std::pair{"--script s.toml", "did you mean 'pause'?"},
                                      {"--script none.toml", "none.toml: error: cannot be read"},
                                      {"--shot a.png", "FILE.png@SECONDS"},
                                      {"a.toml", "a.toml:1"},
                                      {"--crew 0", "--crew"},
                                      {"--level none.toml", "none.toml"}}) {
        const Answer answer = shell(std::string{AVREK_PLAYGROUND " "} + words);
        EXPECT_EQ(answer.status, 2) << words;
        EXPECT_NE(answer.err.find(said), std::string::npos) << words << '\n' << answer.err;
    }
    EXPECT_EQ(shell("DISPLAY=:none SDL_VIDEODRIVER=x11 " AVREK_PLAYGROUND).status, 2) << "no display";
    const Answer full = play("--crew 2 --exit 0.2 --shot /nowhere/a.png@0.1 --report /nowhere/r.json");
    EXPECT_EQ(full.status, 1);
    EXPECT_NE(full.err.find("/nowhere/a.png cannot be written"), std::string::npos) << full.err;
}

} // namespace
} // namespace avrek::playground
