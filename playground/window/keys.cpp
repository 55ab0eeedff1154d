#include "keys.h"

#include <SDL.h>

#include <algorithm>
#include <iterator>
#include <utility>

namespace avrek::playground {

namespace {

constexpr Radians per_pixel = 0.0022;
constexpr Radians arrow_speed = 1.6; // per second

constexpr std::pair<SDL_Scancode, Held> held_keys[] = {
    {SDL_SCANCODE_W, Held::ahead},        {SDL_SCANCODE_S, Held::back},
    {SDL_SCANCODE_A, Held::left},         {SDL_SCANCODE_D, Held::right},
    {SDL_SCANCODE_LSHIFT, Held::sprint},  {SDL_SCANCODE_LCTRL, Held::crouch},
    {SDL_SCANCODE_SPACE, Held::jump},     {SDL_SCANCODE_R, Held::reload},
    {SDL_SCANCODE_Q, Held::last_weapon},  {SDL_SCANCODE_M, Held::next_mode},
    {SDL_SCANCODE_F, Held::light_strike}, {SDL_SCANCODE_H, Held::heavy_strike},
    {SDL_SCANCODE_G, Held::guard},        {SDL_SCANCODE_E, Held::take},
    {SDL_SCANCODE_RETURN, Held::trigger}, {SDL_SCANCODE_RSHIFT, Held::aim},
};

constexpr std::pair<SDL_Scancode, Command> command_keys[] = {
    {SDL_SCANCODE_P, Command::pause},
    {SDL_SCANCODE_PERIOD, Command::step_forward},
    {SDL_SCANCODE_COMMA, Command::step_back},
    {SDL_SCANCODE_U, Command::previous_moment},
    {SDL_SCANCODE_I, Command::next_moment},
    {SDL_SCANCODE_MINUS, Command::slower},
    {SDL_SCANCODE_EQUALS, Command::faster},
    {SDL_SCANCODE_V, Command::next_view},
    {SDL_SCANCODE_Z, Command::undo},
    {SDL_SCANCODE_Y, Command::redo},
    {SDL_SCANCODE_O, Command::save},
    {SDL_SCANCODE_B, Command::compare},
    {SDL_SCANCODE_RIGHTBRACKET, Command::next_entry},
    {SDL_SCANCODE_LEFTBRACKET, Command::previous_entry},
    {SDL_SCANCODE_SEMICOLON, Command::previous_number},
    {SDL_SCANCODE_APOSTROPHE, Command::next_number},
    {SDL_SCANCODE_9, Command::smaller},
    {SDL_SCANCODE_0, Command::larger},
    {SDL_SCANCODE_7, Command::point_left},
    {SDL_SCANCODE_8, Command::point_right},
    {SDL_SCANCODE_N, Command::next_preset},
    {SDL_SCANCODE_K, Command::all_keys},
    {SDL_SCANCODE_X, Command::board},
    {SDL_SCANCODE_F8, Command::show_recoil},
    {SDL_SCANCODE_F9, Command::show_blasts},
    {SDL_SCANCODE_F10, Command::show_ghosts},
    {SDL_SCANCODE_F11, Command::show_second},
    {SDL_SCANCODE_T, Command::second_window},
    {SDL_SCANCODE_F12, Command::show_kills},
    {SDL_SCANCODE_F1, Command::help},
    {SDL_SCANCODE_L, Command::link},
    {SDL_SCANCODE_F2, Command::show_regions},
    {SDL_SCANCODE_F3, Command::show_segments},
    {SDL_SCANCODE_F4, Command::show_cone},
    {SDL_SCANCODE_F7, Command::show_sight},
};

void take_key(const SDL_KeyboardEvent& key, Session& session, InputState& state) {
    const bool is_down = key.type == SDL_KEYDOWN;
    const SDL_Scancode code = key.keysym.scancode;
    for (const auto& [scancode, held] : held_keys) {
        if (code == scancode) {
            session.controls().set(held, is_down);
        }
    }
    if (!is_down || key.repeat != 0) {
        return;
    }
    for (const auto& [scancode, command] : command_keys) {
        if (code == scancode) {
            session.command(command);
        }
    }
    if (code >= SDL_SCANCODE_1 && code <= SDL_SCANCODE_6) {
        session.controls().slot = static_cast<std::int8_t>(code - SDL_SCANCODE_1);
    }
    if (code == SDL_SCANCODE_TAB) {
        state.mouse_looks = !state.mouse_looks;
        SDL_SetRelativeMouseMode(state.mouse_looks ? SDL_TRUE : SDL_FALSE);
    }
    state.toggles_sound = state.toggles_sound || code == SDL_SCANCODE_F6;
    state.toggles_panels = state.toggles_panels || code == SDL_SCANCODE_F5;
    state.ends = state.ends || (code == SDL_SCANCODE_ESCAPE && session.may_end());
}

} // namespace

void take_event(const SDL_Event& event, Session& session, InputState& state, bool typing) {
    Controls& controls = session.controls();
    switch (event.type) {
    case SDL_QUIT: // also of a signal, which is not asked twice
        state.ends = true;
        break;
    case SDL_KEYDOWN:
    case SDL_KEYUP:
        if (!typing) {
            take_key(event.key, session, state);
        }
        break;
    case SDL_MOUSEMOTION:
        state.mouse_x = static_cast<float>(event.motion.x);
        state.mouse_y = static_cast<float>(event.motion.y);
        if (state.mouse_looks) {
            controls.look =
                turned(controls.look, -per_pixel * event.motion.xrel, -per_pixel * event.motion.yrel);
        }
        break;
    case SDL_MOUSEBUTTONDOWN:
    case SDL_MOUSEBUTTONUP:
        if (state.mouse_looks) {
            const bool is_down = event.type == SDL_MOUSEBUTTONDOWN;
            controls.set(event.button.button == SDL_BUTTON_LEFT ? Held::trigger : Held::aim, is_down);
        }
        break;
    case SDL_WINDOWEVENT:
        state.ends = state.ends || event.window.event == SDL_WINDOWEVENT_CLOSE;
        if (event.window.event == SDL_WINDOWEVENT_FOCUS_LOST && !state.is_scripted) {
            controls.held = 0; // keys that are let go elsewhere are not seen
        }
        break;
    default:
        break;
    }
}

void turn_by_arrows(Session& session, Duration real) {
    const Uint8* keys = SDL_GetKeyboardState(nullptr);
    const double step = arrow_speed * to_seconds(real);
    const double left = keys[SDL_SCANCODE_LEFT] - keys[SDL_SCANCODE_RIGHT];
    const double up = keys[SDL_SCANCODE_UP] - keys[SDL_SCANCODE_DOWN];
    if (left != 0.0 || up != 0.0) {
        session.controls().look = turned(session.controls().look, left * step, up * step);
    }
}

} // namespace avrek::playground
