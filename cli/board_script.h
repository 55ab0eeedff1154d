#pragma once
#include <avrek/tuning/firing_range.h>

#include <string>
#include <string_view>

/// The board of a firing range, as pieces of a script for gnuplot.
namespace avrek::cli {

/// The fill of a region: pale, told apart by lightness too.
std::string_view region_colour(std::size_t region);

/// The corners of what is drawn: metres to the side, and above the floor.
struct Extent {
    double left = 0.0;
    double right = 0.0;
    double down = 0.0;
    double up = 0.0;

    /// Grows to hold a point.
    void include(double x, double y);
    /// Grows to hold another.
    void include(const Extent& other);
};

/// The ranges of both axes for `extent`, with a margin.
std::string ranges_of(const Extent& extent);

/// Draws with heights above the floor, as the board's own zero is the aim.
class BoardScript {
  public:
    explicit BoardScript(const RangeTrial& trial);

    /// The body, region by region.
    std::string outline(const BodySpec& body);
    /// A circle about a point of the board, in a style of gnuplot's; nothing for a radius of 0.
    std::string circle(const BoardPoint& centre, Metres radius, std::string_view style);
    /// The points of the shots that hit the body, or of those that did not, as the data block `name`; a hit
    /// with the colour of its region, as where two regions overlap the outline does not say which of them
    /// lies in front.
    std::string points(std::string_view name, bool on_body);
    /// All that was drawn so far.
    const Extent& extent() const { return extent_; }

  private:
    std::string polygon(const Shape& shape, std::string_view style);

    const RangeTrial& trial_;
    double height_;
    Extent extent_;
};

/// A plot command of several layers. What there is no point for must not be plotted: an empty layer is left
/// out.
std::string plot_of(const std::vector<std::string>& layers);

} // namespace avrek::cli
