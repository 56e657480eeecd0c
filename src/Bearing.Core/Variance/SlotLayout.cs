namespace Bearing.Core.Variance;

/// <summary>Where the sums of a block, a side and a part of the figure are kept in a row.</summary>
internal readonly record struct SlotLayout(int Blocks, int Sides, int Parts)
{
    public int Count => Blocks * Sides * Parts;

    public int Slot(int block, int side, int part) => (((block * Sides) + side) * Parts) + part;
}
