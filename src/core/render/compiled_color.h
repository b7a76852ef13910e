#pragma once
#include "core/color/rgb_space.h"
#include "core/fit/color_model.h"

#include <array>
#include <cstdint>
#include <vector>

namespace wavechroma {

/// A colour model made into a function for many pixels: balanced camera RGB (multipliers, not the scale) →
/// linear RGB of a space, unclipped.
///
/// A matrix is one. What a model is beyond it (bends, lean) is a table of 57³ nodes, 97³ where it leans,
/// evenly over roots of balanced RGB, that is looked up tetrahedrally (Sakamoto and Itooka 1981, US 4 275
/// 413, expired); it holds what the model adds, over the mean of the three channels, which changes little
/// from node to node. Tone curves come before it, each by a table of its own. Against the model itself: see
/// docs/methods.md.
class CompiledColor
{
public:
    static constexpr int kSide = 57, kLeanedSide = 97;
    static constexpr float kTop = 1.25F; ///< balanced, scaled RGB that the table reaches to; goes on evenly

    /// `gains`: what the pixels were balanced with, where that is not the model's own multipliers.
    CompiledColor(const ColorModel &model, const RgbSpace &space, double level, const Vector3 &gains);

    /// n pixels, each channel apart, in place.
    void apply(float *red, float *green, float *blue, int n) const;

private:
    void makeTable(const ColorModel &model, const Matrix3 &toSpace);
    void addBends(float *red, float *green, float *blue, int n) const;

    float m_scale[3] = {1, 1, 1};
    int m_side = kSide;
    bool m_isMatrix = false;
    float m_matrix[9] = {};
    std::vector<std::vector<float>> m_curves; ///< none or three, over roots of the value
    std::vector<float> m_table;               ///< four a node, red fastest; empty: none
};

/// Linear light → codes of a space, 0…65535, within half a code and a twentieth of the exact value. What is
/// outside 0…1 is clipped, and so is what is no number, by its sign.
class Encoder
{
public:
    explicit Encoder(Transfer transfer);
    [[nodiscard]] uint16_t code(float linear) const;
    /// Encodes `n` values.
    void codes(const float *linear, uint16_t *out, int n) const;

    /// Codes are slope · v up to a value, and beyond it a polynomial of the root less a middle, within 0.04;
    /// where that value is 0, v^power. Roots up to darkTo are stretched before and their powers shrunk after.
    struct Curve
    {
        float straightTo = 0, slope = 1, power = 1;
        float darkTo = 0, stretch = 1, shrink = 1;
        float middle = 0, offset = 0;
        std::array<float, 8> terms{};
    };

private:
    Curve m_curve;
};

} // namespace wavechroma
