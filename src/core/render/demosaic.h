#pragma once
#include <vector>

namespace wavechroma {

/// RGB at every pixel of a part of a frame behind a Bayer filter.
///
/// Samples are worked on as roots of light, √(v + 0.008): edges of bright against dark then look alike to all
/// channels, and photon noise is the same everywhere. Green minus the other colour is estimated along rows
/// and along columns by Hamilton and Adams (US 5 629 734, expired) and smoothed by five taps near the linear
/// minimum mean square error of Zhang and Wu (2005, IEEE TIP 14(12)); a local estimate of the two variances,
/// as there, was worse on fabric, edges and leaves. Which direction counts how much is decided for each 2 × 2
/// filter cell by how much those differences change along each, summed over 6 × 6 pixels, as in Pekkucuksen
/// and Altunbasak (2010, ICIP); red and blue follow through differences to green, along the direction so
/// found, and where they lie diagonally along the one in which green and difference change less.
///
/// A pixel depends on nothing that is further away than the margin, and in the same order of operations
/// wherever a part begins: parts fit together without seams, to the last bit.
class BayerDemosaic
{
public:
    static constexpr int kMargin = 8;

    /// Room for parts of up to that many pixels; both even. It grows where it has to.
    BayerDemosaic(int mostWidth, int mostHeight);

    /// A part of `width` × `height`, both even, whose first pixel has even coordinates in its frame. Red is
    /// at (redX, redY), 0 or 1 each, of its filter cells.
    void begin(int width, int height, int redX, int redY);
    /// Where row y of linear, balanced samples goes, −kMargin…height + kMargin − 1, from pixel −kMargin on.
    [[nodiscard]] float *samples(int y) { return m_light.data() + (y + kMargin) * m_stride; }
    /// When all samples are there.
    void run();
    /// Row y of the result in linear light, `width` values each.
    void colors(int y, float *red, float *green, float *blue) const;

private:
    void makeRoom(int width, int height);
    void fillDifferences(int y);
    /// Of a row of filter cells; and from the changes of three of them the direction and green.
    void fillChanges(int q);
    void fillGreen(int q);
    [[nodiscard]] float *rowOf(std::vector<float> &plane, int x, int y) const
    {
        return plane.data() + y * m_stride + x;
    }
    [[nodiscard]] const float *pattern(int shift) const { return m_ones.data() + shift; }
    /// Of a row in part coordinates: where the sampled colour that is not green begins, 0 or 1.
    [[nodiscard]] int firstColored(int y) const { return ((y & 1) == m_redY) ? m_redX : 1 - m_redX; }

    int m_width = 0, m_height = 0, m_redX = 0, m_redY = 0;
    int m_stride = 0, m_rows = 0;        ///< with margins
    std::vector<float> m_ones;           ///< 1, 0, 1, 0, …
    std::vector<float> m_light;          ///< roots of samples, in the end green
    std::vector<float> m_across, m_down; ///< green minus the other, along rows and columns
    std::vector<float> m_quadsAcross, m_quadsDown;
    std::vector<float> m_share; ///< of the direction across, one a pixel
    std::vector<float> m_own;   ///< where red or blue was sampled: green minus it
    std::vector<float> m_other; ///< there too: green minus the one that was not
};

} // namespace wavechroma
