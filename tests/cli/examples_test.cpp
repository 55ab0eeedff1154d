// The examples with wrong arguments; what they print otherwise is held by the documents that show it.
#include "tool_rig.h"

namespace avrek {
namespace {

TEST_F(Tool, ExamplesRefuseWhatIsNotThere) {
    EXPECT_EQ(shell(AVREK_EXAMPLES "/rollback none").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/saved_changes none").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/two_peers none.toml").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/behind_a_wall none.toml").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/engine_loop none.toml").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/last_stand none.toml").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/first_shot none.toml").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/loadout none.toml").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/tune_rifle none.toml").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/ricochet none").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/turret none").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/tickets none.toml").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/flat_arena none.toml").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/close_quarters none.toml").status, 2);
}

TEST_F(Tool, OwnRaycastFiresReloadsAndHitsTheCrate) {
    const Answer own = shell(AVREK_EXAMPLES "/own_raycast");
    EXPECT_EQ(own.status, 0);
    for (const char* part : {"hits the crate", "too early", "click", "reloaded 4, reserve 0"}) {
        EXPECT_NE(own.out.find(part), std::string::npos) << part << "\n" << own.out;
    }
}

// In bash itself: commands, options, and the ids of the shipped arsenal where an option takes them.
TEST_F(Tool, CompletionKnowsCommandsOptionsAndIds) {
    ASSERT_EQ(run("completion bash --out avrek.bash").status, 0);
    write("complete.bash", "source avrek.bash\nCOMP_WORDS=(\"$@\")\nCOMP_CWORD=$(($# - 1))\n_avrek\n"
                           "echo \"${COMPREPLY[@]}\"\n");
    const std::pair<const char*, const char*> cases[] = {{"avrek c", "card check completion"},
                                                         {"avrek card th", "thorn-rifle"},
                                                         {"avrek duel --li", "--link"},
                                                         {"avrek ttk --target w", "warden"},
                                                         {"avrek ttk --distribution nee", "needle-pistol"},
                                                         {"avrek duel --link far", "far-dock"},
                                                         {"avrek check --s", ""}};
    for (const auto& [typed, offered] : cases) {
        EXPECT_EQ(shell(std::string{"bash complete.bash "} + typed).out, std::string{offered} + '\n')
            << typed;
    }
    const std::string zsh = run("completion zsh").out;
    EXPECT_EQ(zsh.substr(0, 14), "#compdef avrek");
    EXPECT_NE(zsh.find("'*--link["), std::string::npos);
}

TEST_F(Tool, HelpGroupsItsCommandsAndShowsNoHugeNumbers) {
    const std::string help = run("--help").out;
    std::size_t at = 0;
    for (const char* group : {"Look at an arsenal:", "Fire and explain:", "Fights and matches:", "Tune:"}) {
        const std::size_t found = help.find(group);
        ASSERT_NE(found, std::string::npos) << group;
        EXPECT_GT(found, at) << group;
        at = found;
    }
    for (const char* command : {"host", "join", "bout", "match", "sweep", "range"}) {
        const std::string words = run(std::string{command} + " --help").out;
        EXPECT_EQ(words.find("e+"), std::string::npos) << words;
        EXPECT_NE(words.find("--for SECONDS"), std::string::npos) << words;
        EXPECT_NE(words.find("Example: avrek "), std::string::npos) << words;
    }
}

} // namespace
} // namespace avrek
