#pragma once
#include <cstddef>
#include <vector>

namespace wavechroma {

/// RGB at every pixel of a part of a frame behind a Bayer filter, row by row.
///
/// Samples are worked on as roots of light, √(v + 0.008): edges of bright against dark then look alike to all
/// channels, and photon noise is the same everywhere.
/// 1. Green minus the other colour is estimated along rows and along columns by Hamilton and Adams (US 5 629
///    734, expired); how much it changes along each, summed over 6 × 6 pixels, says for each 2 × 2 filter
///    cell which direction counts how much, as in Pekkucuksen and Altunbasak (2010, ICIP).
/// 2. Green where red or blue was sampled is what green's samples beside it have, smoothed along the
///    direction, and b times what the sample itself has over its smoothed neighbours. With b = 1 that is
///    Hamilton and Adams'.
/// 3. b is the slope of the line from the other colour to green through the nine samples of one colour round
///    the place: where two surfaces meet, every channel is a linear function of every other (He, Sun and Tang
///    2013, IEEE TPAMI 35(6), eqs. 5 and 6; as residuals in Kiku et al. 2013, ICIP).
/// 4. Red and blue are linear functions of green, by the same nine with the green of step 3, their slopes and
///    intercepts spread over the pixels between: diagonally along the direction that changes less, along
///    rows and columns by step 1.
///
/// A pixel depends on nothing that is further away than the margin, and in the same order of operations
/// wherever a part begins: parts fit together without seams, to the last bit.
class BayerDemosaic
{
public:
    static constexpr int kMargin = 12;

    /// A part `width` pixels wide, even, whose first pixel has even coordinates in its frame. Red is at
    /// (redX, redY), 0 or 1 each, of its filter cells.
    void begin(int width, int redX, int redY);
    /// Returns where the next row of linear, balanced samples goes, from pixel −kMargin to width + kMargin −
    /// 1; the first row is −kMargin.
    [[nodiscard]] float *samples() { return m_samples.data(); }
    /// When they are there.
    void push();
    /// Row y of the result in linear light, `width` values each. Once row y + kMargin was pushed, and before
    /// the next one is.
    void colors(int y, float *red, float *green, float *blue);

private:
    /// What is known of a row, at the pixels where green was not sampled as at those where it was: value k
    /// of a row belongs to its filter cell k. Rows are counted from the margin's first.
    enum Plane {
        kColored, ///< roots of samples
        kGreen,
        kAcrossColored, ///< green minus the other colour, along rows
        kAcrossGreen,
        kDownColored, ///< and along columns
        kDownGreen,
        kChangesAcross, ///< of cells, where their upper row is; so are the next two
        kChangesDown,
        kShare,  ///< of the direction across
        kDetail, ///< what a coloured sample has over its smoothed neighbours
        kFilled, ///< green where it was not sampled
        // Sums over three samples of a row, first with the green of b = 1, then with the final one.
        kSumColored,
        kSumColored2,
        kSumFirst,
        kSumFirstColored,
        kSumFilled,
        kSumFilled2,
        kSumFilledColored,
        kSlope, ///< of the sampled colour as a function of green
        kIntercept,
        kOtherSlope, ///< of the colour that was not sampled there
        kOtherIntercept,
        kPlanes
    };
    static constexpr int kRows = 16; ///< of each are kept
    /// Values between planes: rows of several would lie whole memory pages apart, and a processor takes what
    /// is stored to one for what is loaded from another (5 % of the time).
    static constexpr size_t kPlaneGap = 80;

    [[nodiscard]] float *row(Plane plane, int y) const
    {
        return m_first + size_t(plane) * (kRows * m_pitch + kPlaneGap) + size_t(y) % kRows * m_pitch;
    }
    /// 1 where the first pixel of a row has a green sample.
    [[nodiscard]] int shiftOf(int y) const { return (y & 1) == m_redY ? m_redX : 1 - m_redX; }
    void fillDown(int y);
    void fillShares(int y);
    void fillGreen(int y);
    void steepenGreen(int y);
    void fillLines(int y);
    void fillOtherLines(int y);

    int m_width = 0, m_redX = 0, m_redY = 0;
    int m_row = 0; ///< that comes next
    int m_cells = 0;
    size_t m_pitch = 0;
    float *m_first = nullptr;
    std::vector<float> m_samples, m_scratch, m_rows;
};

} // namespace wavechroma
