// What the documents say that the examples print.
#include "tool_rig.h"

namespace avrek {
namespace {

TEST_F(Tool, ExamplesDoWhatTheReadmeSays) {
    const std::string readme = read_file(AVREK_SOURCE_DIR "/README.md");
    EXPECT_NE(readme.find(read_file(AVREK_SOURCE_DIR "/examples/ten_lines.cpp")), std::string::npos);
    for (const char* call :
         {AVREK_EXAMPLES "/ten_lines", AVREK_EXAMPLES "/loadout " AVREK_SOURCE_DIR "/data/halm-ring.toml",
          AVREK_TOOL " ttk thorn-rifle burr-gun amber-rail",
          AVREK_TOOL " explain needle-pistol --at 10 --region head --target warden --with barked",
          AVREK_TOOL " ttk --distribution thorn-rifle reed-carbine burr-gun --at 8,16 --fights 500",
          AVREK_EXAMPLES "/tune_rifle " AVREK_SOURCE_DIR "/data/halm-ring.toml",
          AVREK_TOOL " bout --crew 8 --seed 2", AVREK_TOOL " match --crew 8 --seed 3",
          AVREK_EXAMPLES "/two_peers " AVREK_SOURCE_DIR "/data/halm-ring.toml",
          AVREK_EXAMPLES "/first_shot " AVREK_SOURCE_DIR "/data/halm-ring.toml",
          AVREK_EXAMPLES "/ricochet " AVREK_SOURCE_DIR "/data",
          AVREK_EXAMPLES "/turret " AVREK_SOURCE_DIR "/data",
          AVREK_EXAMPLES "/flat_arena " AVREK_SOURCE_DIR "/data/halm-ring.toml",
          AVREK_EXAMPLES "/close_quarters " AVREK_SOURCE_DIR "/data/halm-ring.toml"}) {
        const Answer shown = shell(call);
        EXPECT_EQ(shown.status, 0);
        EXPECT_NE(readme.find("\n" + shown.out + "```"), std::string::npos) << "README.md lacks\n"
                                                                            << shown.out;
    }
    const Answer stand = shell(AVREK_EXAMPLES "/last_stand " AVREK_SOURCE_DIR "/data/halm-ring.toml");
    EXPECT_NE(read_file(AVREK_SOURCE_DIR "/docs/vitals.md").find("\n" + stand.out + "```"), std::string::npos)
        << "docs/vitals.md lacks\n"
        << stand.out;
    const std::string skirmish = read_file(AVREK_SOURCE_DIR "/docs/skirmish.md");
    for (const char* call : {AVREK_EXAMPLES "/rollback " AVREK_SOURCE_DIR "/data",
                             AVREK_EXAMPLES "/engine_loop " AVREK_SOURCE_DIR "/data/halm-ring.toml"}) {
        const Answer shown = shell(call);
        EXPECT_EQ(shown.status, 0);
        EXPECT_NE(skirmish.find("\n" + shown.out + "```"), std::string::npos) << "docs/skirmish.md lacks\n"
                                                                              << shown.out;
    }
    EXPECT_EQ(shell(AVREK_EXAMPLES "/rollback none").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/two_peers none.toml").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/engine_loop none.toml").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/last_stand none.toml").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/first_shot none.toml").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/loadout none.toml").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/tune_rifle none.toml").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/ricochet none").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/turret none").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/flat_arena none.toml").status, 2);
    EXPECT_EQ(shell(AVREK_EXAMPLES "/close_quarters none.toml").status, 2);
    const Answer own = shell(AVREK_EXAMPLES "/own_raycast");
    EXPECT_EQ(own.status, 0);
    for (const char* part : {"hits the crate", "too early", "click", "reloaded 4, reserve 0"}) {
        EXPECT_NE(own.out.find(part), std::string::npos) << part << "\n" << own.out;
    }
}

} // namespace
} // namespace avrek
