#pragma once
#include <session/session.h>

union SDL_Event;

/// From the keyboard and the mouse to controls and commands.
namespace avrek::playground {

/// State of the mouse and of requests by keys.
struct InputState {
    bool is_scripted = false; ///< a script holds the inputs, whatever window is in front
    bool mouse_looks = false; ///< else it points at the panels
    float mouse_x = -1.0F;    ///< pixels; the panels go by the events, which come while a button is held too
    float mouse_y = -1.0F;
    bool ends = false;
    bool toggles_sound = false;  ///< since the last look at it
    bool toggles_panels = false; ///< since the last look at it
};

/// Takes an event of SDL. `typing`: letters go to a text field.
void take_event(const SDL_Event& event, Session& session, InputState& state, bool typing);
/// Turns the look by the arrows that are held for a length of real time.
void turn_by_arrows(Session& session, Duration real);

} // namespace avrek::playground
