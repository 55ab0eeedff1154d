#include "drawing.h"
#include "graphics.h"
#include "keys.h"
#include "loudspeaker.h"
#include "panels.h"
#include "second_window.h"
#include "world_view.h"
#include <avrek/net/server_file.h>
#include <avrek/net/udp_transport.h>

#include <CLI/CLI.hpp>
#include <SDL.h>
#include <backends/imgui_impl_opengl3.h>
#include <backends/imgui_impl_sdl.h>
#include <fmt/format.h>
#include <imgui.h>
#include <session/sounds.h>

#include <algorithm>
#include <chrono>
#include <filesystem>
#include <fstream>
#include <memory>
#include <sstream>

namespace avrek::playground {

namespace {

struct Options {
    std::vector<std::string> files{};
    std::string level{};
    std::string overlay = "tuned.toml";
    std::size_t crew = 9;
    std::size_t targets = 3;
    std::uint64_t seed = 1;
    std::string script{};
    std::vector<std::string> shots{}; // FILE.png@SECONDS
    double ends_after = 0.0;          // seconds; 0: never
    std::string report{};
    std::vector<std::string> presets{};
    std::string server_file{}; // written by the host to join
    std::uint32_t player = 1;
    bool quiet = false;
    bool whole = false;
    int width = 1280;
    int height = 800;
};

constexpr int wrong_call = 2;
constexpr Duration fixed_step = std::chrono::nanoseconds{15'625'000}; // with a script

bool print_faults(const std::vector<Diagnostic>& faults) {
    for (const Diagnostic& fault : faults) {
        fmt::print(stderr, "{}\n", to_string(fault));
    }
    return !faults.empty();
}

// The demo data: beside an installed program, or in the tree that it was built from.
std::string data_folder() {
    char* base = SDL_GetBasePath();
    const std::string installed = std::string{base != nullptr ? base : ""} + "../share/avrek";
    SDL_free(base);
    return std::filesystem::exists(installed + "/halm-ring.toml") ? installed : AVREK_PLAYGROUND_DATA;
}

// A window with a context for drawing, and what is drawn in it.
struct Window {
    SDL_Window* window = nullptr;
    SDL_GLContext context = nullptr;

    ~Window() {
        if (context != nullptr) {
            ImGui_ImplOpenGL3_Shutdown();
            ImGui_ImplSDL2_Shutdown();
            ImGui::DestroyContext();
            SDL_GL_DeleteContext(context);
        }
        if (window != nullptr) {
            SDL_DestroyWindow(window);
        }
        SDL_Quit();
    }
    bool open(const Options& options) {
        if (SDL_Init(SDL_INIT_VIDEO | SDL_INIT_EVENTS) != 0) {
            return false;
        }
        SDL_GL_SetAttribute(SDL_GL_CONTEXT_MAJOR_VERSION, 3);
        SDL_GL_SetAttribute(SDL_GL_CONTEXT_MINOR_VERSION, 3);
        SDL_GL_SetAttribute(SDL_GL_CONTEXT_PROFILE_MASK, SDL_GL_CONTEXT_PROFILE_CORE);
        SDL_GL_SetAttribute(SDL_GL_DEPTH_SIZE, 24);
        window = SDL_CreateWindow("Avrek playground", SDL_WINDOWPOS_CENTERED, SDL_WINDOWPOS_CENTERED,
                                  options.width, options.height, SDL_WINDOW_OPENGL | SDL_WINDOW_RESIZABLE);
        context = window != nullptr ? SDL_GL_CreateContext(window) : nullptr;
        if (context == nullptr) {
            return false;
        }
        SDL_GL_SetSwapInterval(1);
        ImGui::CreateContext();
        return ImGui_ImplSDL2_InitForOpenGL(window, context) && start_texts();
    }
};

std::string contents_of(const std::string& file) {
    std::ifstream stream{file, std::ios::binary};
    std::stringstream text;
    text << stream.rdbuf();
    return text.str();
}

// The script of the options, with the pictures that they ask for.
Loaded<std::vector<ScriptStep>> script_of(const Options& options) {
    Loaded<std::vector<ScriptStep>> script{std::vector<ScriptStep>{}, {}};
    if (!options.script.empty()) {
        if (!std::ifstream{options.script}) {
            return {std::nullopt,
                    {{.file = options.script, .message = "cannot be read", .allowed = "a script"}}};
        }
        script = parse_script(contents_of(options.script), options.script);
    }
    for (const std::string& shot : options.shots) {
        const std::size_t at = shot.rfind('@');
        char* end = nullptr;
        const double seconds = at != std::string::npos ? std::strtod(shot.c_str() + at + 1, &end) : -1.0;
        if (!(seconds >= 0.0) || end == nullptr || *end != '\0') {
            return {std::nullopt,
                    {{.where = "--shot",
                      .message = "'" + shot + "' is no picture and time",
                      .allowed = "FILE.png@SECONDS"}}};
        }
        if (script) {
            script->push_back({.at = Time{from_seconds(seconds)}, .shot = shot.substr(0, at)});
        }
    }
    if (script) {
        std::stable_sort(script->begin(), script->end(),
                         [](const auto& one, const auto& other) { return one.at < other.at; });
    }
    return script;
}

// One picture: events, the session's turn, the world, the panels.
struct Running {
    Session& session;
    Window& window;
    Painter painter{};
    WorldView world;
    SecondWindow second{};
    InputState input{};
    PanelState panels{};
    Loudspeaker loudspeaker{};

    Running(Session& its_session, Window& its_window)
        : session(its_session), window(its_window), world(painter, its_session.stage().data()) {}

    // Returns whether all pictures that were wanted could be written.
    bool go_on(Duration real) {
        SDL_Event event;
        while (SDL_PollEvent(&event) != 0) {
            if (second.owns(event)) {
                if (event.type == SDL_WINDOWEVENT && event.window.event == SDL_WINDOWEVENT_CLOSE &&
                    session.shows(Command::second_window)) {
                    session.command(Command::second_window);
                }
                continue;
            }
            if (!input.mouse_looks) {
                ImGui_ImplSDL2_ProcessEvent(&event);
            }
            const bool is_in_list = ImGui::IsPopupOpen("", ImGuiPopupFlags_AnyPopup);
            const bool leaves_text = !is_in_list && ImGui::GetIO().WantTextInput &&
                                     event.type == SDL_KEYDOWN &&
                                     event.key.keysym.scancode == SDL_SCANCODE_TAB;
            if (leaves_text) {
                ImGui::SetWindowFocus(nullptr);
            }
            take_event(event, session, input, is_in_list || (ImGui::GetIO().WantTextInput && !leaves_text));
        }
        if (!ImGui::GetIO().WantTextInput) {
            turn_by_arrows(session, real);
        }
        if (input.toggles_sound) {
            loudspeaker.toggle();
        }
        input.toggles_sound = false;
        panels.shows_panels = panels.shows_panels != input.toggles_panels;
        input.toggles_panels = false;
        if (!input.is_scripted) { // pictures of a script do not depend on the machine
            world.coarser = next_coarseness(world.coarser, real);
        }
        const std::vector<std::string> shots = session.advance(real);
        loudspeaker.play(sounds_of(session.events(), session.fight(), session.player()));
        bool done =
            draw_second(shots); // first: what a window has not shown yet is lost when another is drawn
        draw();
        for (const std::string& shot : shots) {
            int width = 0;
            int height = 0;
            SDL_GL_GetDrawableSize(window.window, &width, &height);
            const std::string fault = write_picture(shot, width, height);
            done = done && fault.empty();
            fmt::print(stderr, "{}", fault.empty() ? "" : fault + '\n');
        }
        SDL_GL_SwapWindow(window.window);
        return done;
    }
    // Returns whether all was drawn and written.
    bool draw_second(const std::vector<std::string>& shots) {
        const auto seen = session.shows(Command::second_window) ? session.second_seen() : std::nullopt;
        if (!seen) {
            second.close();
            return true;
        }
        const std::string fault =
            second.draw(session, *seen, painter, world, window.window, window.context, shots);
        if (!fault.empty()) {
            fmt::print(stderr, "{}\n", fault);
            session.command(Command::second_window);
        }
        return fault.empty();
    }
    void draw() {
        ImGui_ImplOpenGL3_NewFrame();
        ImGui_ImplSDL2_NewFrame();
        ImGui::GetIO().MousePos =
            input.mouse_looks ? ImVec2{-1.0F, -1.0F} : ImVec2{input.mouse_x, input.mouse_y};
        ImGui::NewFrame();
        int width = 0;
        int height = 0;
        SDL_GL_GetDrawableSize(window.window, &width, &height);
        const auto [free_width, free_height] = free_part(panels, width, height);
        const Seen seen = session.seen();
        const auto beside = session.shows(Command::show_second) ? session.second_seen() : std::nullopt;
        const double own_width = beside ? 0.5 * free_width : free_width;
        const Camera camera = camera_of(seen, own_width, free_height);
        painter.clear();
        world.draw(session, seen, camera, {0, 0, height});
        if (beside) {
            const Camera other = camera_of(*beside, free_width - own_width, free_height);
            world.draw(session, *beside, other, {static_cast<int>(own_width), 0, height});
            draw_second_display(session, *beside, other, static_cast<float>(own_width));
        }
        draw_display(session, camera);
        draw_panels(session, panels);
        ImGui::Render();
        ImGui_ImplOpenGL3_RenderDrawData(ImGui::GetDrawData());
    }
};

// Overlays that come with the demo data.
std::vector<std::string> shipped_presets() {
    std::vector<std::string> files;
    std::error_code code;
    for (const auto& file : std::filesystem::directory_iterator{data_folder() + "/overlays", code}) {
        if (file.path().extension() == ".toml") {
            files.push_back(file.path().string());
        }
    }
    std::sort(files.begin(), files.end());
    return files;
}

// Joins the host whose server file it is.
std::vector<Diagnostic> join(Session& session, const Options& options) {
    Loaded<ServerFile> file = read_server_file(options.server_file);
    if (!file) {
        return std::move(file.diagnostics);
    }
    if (!can_issue(*file)) {
        return {{.file = options.server_file,
                 .message = "has no key that signs tickets: they come from another service",
                 .allowed = "the file of a server that runs without --issuer"}};
    }
    auto host = UdpClient::connect(file->address, file->port,
                                   issue_credentials(file->issuer, {.match = file->match,
                                                                    .player = BodyId{options.player},
                                                                    .expires = seconds_of_day() + 60,
                                                                    .server = file->server,
                                                                    .may_tune = true}));
    if (!host) {
        return std::move(host.diagnostics);
    }
    session.join(BodyId{options.player}, {}, std::move(*host.value));
    return {};
}

int run(const Options& options) {
    std::vector<std::string> files = options.files;
    if (files.empty()) {
        files.push_back(data_folder() + "/halm-ring.toml");
    }
    Loaded<GameData> loaded =
        load_game_data(files, options.level.empty() ? data_folder() + "/atrium.toml" : options.level);
    Loaded<std::vector<ScriptStep>> script = script_of(options);
    if (!loaded || !script) {
        print_faults(loaded.diagnostics);
        print_faults(script.diagnostics);
        return wrong_call;
    }
    const auto data = std::make_shared<const GameData>(std::move(*loaded.value));
    const StageSettings settings{.crew = options.crew, .targets = options.targets, .seed = options.seed};
    if (print_faults(validate_stage(*data, settings))) {
        return wrong_call;
    }
    Session session{data, settings};
    session.watch(files);
    session.save_to(options.overlay);
    session.offer_presets(options.presets.empty() ? shipped_presets() : options.presets);
    if (!options.server_file.empty() && print_faults(join(session, options))) {
        return wrong_call;
    }
    const bool is_scripted = !script->empty();
    session.run(std::move(*script.value));
    Window window;
    if (!window.open(options)) {
        fmt::print(stderr, "error: no window with OpenGL 3.3: {}\n", SDL_GetError());
        return wrong_call;
    }
    Running running{session, window};
    if (!running.painter.fault().empty()) {
        fmt::print(stderr, "error: the shaders do not compile: {}\n", running.painter.fault());
        return wrong_call;
    }
    running.input.is_scripted = is_scripted;
    running.world.draws_all = options.whole;
    running.loudspeaker.open(options.quiet || is_scripted);
    bool done = true;
    std::size_t pictures = 0;
    auto before = std::chrono::steady_clock::now();
    const auto began = before;
    const Duration length = from_seconds(options.ends_after);
    while (!running.input.ends && (options.ends_after <= 0.0 || session.clock() - Time{} < length)) {
        const auto now = std::chrono::steady_clock::now();
        const auto passed = std::chrono::duration_cast<Duration>(now - before);
        before = now;
        done = running.go_on(is_scripted ? fixed_step : passed) && done;
        ++pictures;
    }
    if (!options.report.empty() && !(std::ofstream{options.report} << session.report())) {
        fmt::print(stderr, "the report {} cannot be written\n", options.report);
        done = false;
    }
    const std::chrono::duration<double> whole = std::chrono::steady_clock::now() - began;
    fmt::print(stderr, "{} pictures, {:.1f} a second\n", pictures,
               static_cast<double>(pictures) / whole.count());
    return done ? 0 : 1;
}

} // namespace

} // namespace avrek::playground

int main(int count, char** words) {
    avrek::playground::Options options;
    CLI::App tool{"Fight in a level, and tune the values while you do. F1 shows the keys."};
    tool.add_option("arsenal", options.files, "Arsenal files; what is saved in them counts at once");
    tool.add_option("--level", options.level, "Level: FILE.toml, .glb or .gltf; the atrium by default");
    tool.add_option("--crew", options.crew, "Combatants, you included")->check(CLI::Range(1, 64));
    tool.add_option("--targets", options.targets, "Targets on rails before your first place; 3 by default")
        ->check(CLI::Range(0, 8));
    tool.add_option("--seed", options.seed, "Seed of the fight");
    tool.add_option("--overlay", options.overlay, "File for the changed values; tuned.toml by default");
    tool.add_option("--preset", options.presets,
                    "Overlay to offer as a preset; may be given several times; else those of the demo data");
    tool.add_option("--join", options.server_file,
                    "Join the host that wrote this server file, with its data");
    tool.add_option("--player", options.player, "Player slot of that host; 1 by default")
        ->check(CLI::Range(1, 1000000));
    tool.add_option("--script", options.script, "Inputs, commands and values at their times, in fixed steps");
    tool.add_option("--shot", options.shots,
                    "FILE.png@SECONDS: write the picture at that time, in fixed steps");
    tool.add_option("--exit", options.ends_after, "End after so many seconds")
        ->check(CLI::Range(0.0, 86400.0));
    tool.add_flag("--quiet", options.quiet, "No sound");
    tool.add_flag("--whole", options.whole,
                  "Draw the whole level in full detail each time, to see what leaving out saves");
    tool.add_option("--report", options.report, "Write the state at the end to this file, as JSON");
    tool.footer("Example: avrek-playground --crew 9 data/halm-ring.toml");
    try {
        tool.parse(count, words);
    } catch (const CLI::ParseError& error) {
        return tool.exit(error) == 0 ? 0 : avrek::playground::wrong_call;
    }
    return avrek::playground::run(options);
}
