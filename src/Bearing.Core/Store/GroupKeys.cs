namespace Bearing.Core.Store;

/// <summary>
/// One number for each combination of values in some columns, whatever their number: as many columns as fit are packed into 128
/// bits; where more follow, what was packed so far gets a running number that stands for it.
/// </summary>
internal sealed class GroupKeys
{
    private const int Bits = 128;
    private const int RunningBits = 32;
    private const int PeriodBits = 20;
    private const long PeriodMask = (1 << PeriodBits) - 1;
    private readonly (int[] Column, int Bits)[][] _packs;
    private readonly Dictionary<UInt128, uint>[] _running;
    private readonly long[]? _periods;

    /// <param name="columns">Each with the largest value that it holds; none is below zero.</param>
    /// <param name="periods">Numbers whose lower 20 bits are kept apart too; null where they are not.</param>
    public GroupKeys((int[] Column, int Most)[] columns, long[]? periods)
    {
        _periods = periods;
        var packs = new List<List<(int[], int)>> { new() };
        var room = Bits - (periods is null ? 0 : PeriodBits);
        foreach (var (column, most) in columns)
        {
            var bits = 32 - System.Numerics.BitOperations.LeadingZeroCount((uint)most);
            if (bits > room)
                (packs, room) = ([.. packs, []], Bits - RunningBits - (periods is null ? 0 : PeriodBits));
            packs[^1].Add((column, bits));
            room -= bits;
        }
        _packs = [.. packs.Select(p => p.ToArray())];
        _running = [.. packs.Skip(1).Select(_ => new Dictionary<UInt128, uint>())];
    }

    public UInt128 Of(int row)
    {
        var key = Packed(_packs[0], 0, row);
        for (var p = 1; p < _packs.Length; p++)
        {
            var running = _running[p - 1];
            ref var number = ref System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(
                running,
                key,
                out var known
            );
            if (!known)
                number = (uint)running.Count;
            key = Packed(_packs[p], number, row);
        }
        return _periods is null ? key : (key << PeriodBits) + (UInt128)(_periods[row] & PeriodMask);
    }

    private static UInt128 Packed((int[] Column, int Bits)[] pack, UInt128 key, int row)
    {
        foreach (var (column, bits) in pack)
            key = (key << bits) + (uint)column[row];
        return key;
    }
}
