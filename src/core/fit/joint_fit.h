#pragma once
#include "core/color/colors.h"
#include "core/fit/color_model.h"

#include <Eigen/Core>
#include <optional>
#include <string>
#include <vector>

namespace wavechroma {

/// A patch or a thing, as the stations see it.
struct SeenByMany
{
    std::string id;
    bool isThing = false;
    std::vector<std::optional<CameraRgb>> rgb;
    std::vector<std::optional<Xyz>> reference; ///< by station; of things none
};

/// Corrections to the models of several stations as one problem: a matrix each that keeps the white, and the
/// numbers of the square roots where a model has some. In it are, as means,
///   |ΔE of a station's patches to their references|, |ΔE of a station's things to what all stations make of
///   them|, |ΔE between two stations|, on patches and things, and a ridge on the corrections.
/// The more things there are, the less patches count between stations: few say little of things that nobody
/// saw. ΔE2000 is taken as a quadratic form about each colour, and lengths below 0.3 by their squares. What
/// all make of a thing is the mean of the stations' own models, a leader's own where he saw it: without it
/// stations also come together by paling what they see, which brings no truth.
class JointFit
{
public:
    /// What a correction's numbers do to XYZ.
    using Terms = Eigen::Matrix<double, 3, Eigen::Dynamic, 0, 3, 15>;

    /// `leader`: the station whose numbers stay 0. `trust`: how much things count between stations, against
    /// patches, 0…1; ½: one as much as the other.
    JointFit(const std::vector<ColorModel> &models, const std::vector<SeenByMany> &seen,
             std::optional<size_t> leader, double trust);

    /// How much agreement counts against truth: between two stations, and of things to their middle.
    struct Agreement
    {
        double pairs = 0, middles = 0;
    };

    /// The corrected models of those weights: nearly the least sum of lengths, each round of squares over the
    /// lengths of the round before (Weiszfeld 1937). `hold`: by station, how many times its own truth counts.
    [[nodiscard]] std::vector<ColorModel> solved(const Agreement &weights,
                                                 const std::vector<double> &hold) const;

private:
    enum class Kind { Reference, Middle, Pair };
    /// One difference of the problem, |off + terms · numbers (− otherTerms · numbers of the other)|.
    struct Length
    {
        Kind kind = Kind::Reference;
        size_t station = 0, other = 0;
        Terms terms, otherTerms;
        Eigen::Vector3d off;
        double share = 1; ///< in its mean
    };
    /// A patch or a thing as the models have it before they are corrected.
    struct Sight
    {
        size_t station = 0;
        Xyz xyz;
        Terms terms;
    };
    struct System
    {
        Eigen::MatrixXd sum;
        Eigen::VectorXd side;
    };

    [[nodiscard]] int sizeOf(size_t station) const;
    [[nodiscard]] Eigen::VectorXd numbersOf(const Eigen::VectorXd &all, size_t station) const;
    [[nodiscard]] Xyz middleOf(const std::vector<Sight> &sights) const;
    void add(const SeenByMany &one);
    void shareOut();
    void addTo(System &system, const Length &length, const Eigen::VectorXd &numbers, double weight) const;

    std::vector<ColorModel> m_models;
    std::optional<size_t> m_leader;
    double m_trust;
    std::vector<int> m_start;
    int m_size = 0;
    Eigen::VectorXd m_ridge;
    std::vector<Length> m_lengths;
};

} // namespace wavechroma
