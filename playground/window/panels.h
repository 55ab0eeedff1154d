#pragma once
#include <avrek/ballistics/camera.h>

#include <session/session.h>

#include <string>
#include <utility>

/// The head-up display and the panels, over the picture of the world.
namespace avrek::playground {

/// State of the panels between pictures.
struct PanelState {
    std::string filter{};  ///< numbers of the panel whose name has it
    std::string dragged{}; ///< path of the slider that is held; empty: none
    double least = 0.0;    ///< its ends, which stay while it is held
    double most = 0.0;
    bool has_changed = false; ///< it has changed the value
    std::size_t point = 0;    ///< point of the curve that is held
    CurvePoint low{};         ///< the drawing of that curve, which stays too
    CurvePoint high{};
    std::string selected{}; ///< number that was scrolled to
    std::string notice{};   ///< last one that was shown
    Time noticed_at{};
    bool shows_panels = true;
};

/// Returns the width and height of what the panels leave free of a window, in its upper left.
std::pair<double, double> free_part(const PanelState& state, int width, int height);
/// Draws what a player needs: crosshair, health, ammunition, damage, news.
void draw_display(const Session& session, const Camera& camera);
/// Draws the same, without news, for the second player, whose picture begins so many pixels from the left.
void draw_second_display(const Session& session, const Seen& seen, const Camera& camera, float left);
/// Draws the panels, and does what is done in them.
void draw_panels(Session& session, PanelState& state);

} // namespace avrek::playground
