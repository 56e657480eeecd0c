using System.Collections;
using System.Collections.Immutable;
using System.Runtime.CompilerServices;

namespace Bearing.Core.Questions;

/// <summary>An immutable list that equals another one with equal elements in the same order, so that records which hold it compare
/// by what they say.</summary>
[CollectionBuilder(typeof(ValueList), nameof(ValueList.Create))]
public readonly struct ValueList<T>(ImmutableArray<T> items) : IReadOnlyList<T>, IEquatable<ValueList<T>>
{
    private readonly ImmutableArray<T> _items = items;

    private ImmutableArray<T> Items => _items.IsDefault ? [] : _items;

    public int Length => Items.Length;

    int IReadOnlyCollection<T>.Count => Length;

    public bool IsEmpty => Length == 0;

    public T this[int index] => Items[index];

    public int IndexOf(T item) => Items.IndexOf(item);

    public static implicit operator ValueList<T>(ImmutableArray<T> items) => new(items);

    public static implicit operator ImmutableArray<T>(ValueList<T> list) => list.Items;

    public static bool operator ==(ValueList<T> left, ValueList<T> right) => left.Equals(right);

    public static bool operator !=(ValueList<T> left, ValueList<T> right) => !left.Equals(right);

    public bool Equals(ValueList<T> other) => Items.SequenceEqual(other.Items);

    public override bool Equals(object? obj) => obj is ValueList<T> other && Equals(other);

    public override int GetHashCode()
    {
        var hash = new HashCode();
        foreach (var item in Items)
            hash.Add(item);
        return hash.ToHashCode();
    }

    public override string ToString() => $"[{string.Join(", ", Items)}]";

    public ImmutableArray<T>.Enumerator GetEnumerator() => Items.GetEnumerator();

    IEnumerator<T> IEnumerable<T>.GetEnumerator() => ((IEnumerable<T>)Items).GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => ((IEnumerable)Items).GetEnumerator();
}

/// <summary>Makes lists of values from collection expressions.</summary>
public static class ValueList
{
    public static ValueList<T> Create<T>(ReadOnlySpan<T> items) => new([.. items]);
}
