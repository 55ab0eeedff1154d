#include <avrek/core/elementary.h>
#include <avrek/scene/silhouette.h>

#include <algorithm>
#include <cassert>
#include <cmath>
#include <cstddef>

namespace avrek {

namespace {

Vector3 facing(const Board& board) {
    return (board.centre - board.eye).normalized();
}

// The outer points of a shape as directions from the eye; false when some of it is not in front of the eye.
class Outline {
  public:
    Outline(const Board& board, const Pose& pose, int corners)
        : board_(board), pose_(pose), forward_(facing(board)), corners_(corners) {}

    bool operator()(const Sphere& sphere) { return add_ball(sphere.centre, sphere.radius); }

    bool operator()(const Capsule& capsule) {
        return add_ball(capsule.from, capsule.radius) && add_ball(capsule.to, capsule.radius);
    }

    bool operator()(const Box& box) {
        bool in_front = true;
        for (unsigned corner = 0; corner < 8; ++corner) {
            const Vector3 sign{(corner & 1U) != 0 ? 1.0 : -1.0, (corner & 2U) != 0 ? 1.0 : -1.0,
                               (corner & 4U) != 0 ? 1.0 : -1.0};
            in_front &= add(to_world(pose_, to_world(box.pose, box.half_extents.cwiseProduct(sign))));
        }
        return in_front;
    }

    bool operator()(const HalfSpace&) { return false; }

    const std::vector<BoardPoint>& points() const { return points_; }

  private:
    bool add(const Vector3& point) {
        const Vector3 direction = point - board_.eye;
        if (direction.dot(forward_) <= 1e-9) {
            return false;
        }
        points_.push_back(on_board(board_, direction.normalized()));
        return true;
    }

    // The circle in which the eye's tangent cone touches the ball.
    bool add_ball(const Vector3& local_centre, double radius) {
        const Vector3 centre = to_world(pose_, local_centre);
        const Vector3 towards = centre - board_.eye;
        const double distance_squared = towards.squaredNorm();
        const double share = radius * radius / distance_squared;
        if (share >= 1.0) {
            return false;
        }
        const Vector3 direction = towards / std::sqrt(distance_squared);
        const Across axes = across(direction);
        // Seen from afar the chords would cut off a little; widened, they pass it half inside and half
        // outside.
        const double widening = 1.0 / std::sqrt(cosine(pi / corners_));
        const double circle_radius = radius * std::sqrt(1.0 - share) * widening;
        const Vector3 middle = centre - share * towards;
        bool in_front = true;
        for (int corner = 0; corner < corners_; ++corner) {
            const double around = 2.0 * pi * corner / corners_;
            in_front &= add(middle + circle_radius * (cosine(around) * axes.left + sine(around) * axes.up));
        }
        return in_front;
    }

    const Board& board_;
    const Pose& pose_;
    Vector3 forward_;
    int corners_;
    std::vector<BoardPoint> points_;
};

double turn(const BoardPoint& a, const BoardPoint& b, const BoardPoint& c) {
    return (b.right - a.right) * (c.up - a.up) - (b.up - a.up) * (c.right - a.right);
}

// The convex hull, counter-clockwise, by Andrew's monotone chains (1979).
std::vector<BoardPoint> hull(std::vector<BoardPoint> points) {
    std::sort(points.begin(), points.end(), [](const BoardPoint& a, const BoardPoint& b) {
        return a.right != b.right ? a.right < b.right : a.up < b.up;
    });
    std::vector<BoardPoint> chain;
    const auto extend = [&chain](const BoardPoint& point, std::size_t least) {
        while (chain.size() >= least + 2 && turn(chain[chain.size() - 2], chain.back(), point) <= 0.0) {
            chain.pop_back();
        }
        chain.push_back(point);
    };
    for (const BoardPoint& point : points) {
        extend(point, 0);
    }
    const std::size_t lower = chain.size() - 1;
    for (auto point = points.rbegin() + 1; point != points.rend(); ++point) {
        extend(*point, lower);
    }
    chain.pop_back();
    return chain;
}

} // namespace

BoardPoint on_board(const Board& board, const Vector3& direction) {
    const Vector3 forward = facing(board);
    const double closing = direction.dot(forward);
    assert(closing > 0.0);
    const double distance = std::sqrt((board.centre - board.eye).squaredNorm());
    const Vector3 point = direction * (distance / closing);
    const Across axes = across(forward);
    return {-point.dot(axes.left), point.dot(axes.up)};
}

std::vector<BoardPoint> silhouette(const Board& board, const Pose& pose, const Shape& shape, int corners) {
    assert(corners >= 3);
    Outline outline{board, pose, corners};
    if (!std::visit(outline, shape)) {
        return {};
    }
    return hull(outline.points());
}

} // namespace avrek
