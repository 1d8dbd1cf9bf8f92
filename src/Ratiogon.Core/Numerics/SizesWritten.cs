namespace Ratiogon.Core.Numerics;

/// <summary>What a rule did to a writer besides adding equations.</summary>
internal enum DeedKind
{
    Identify,
    Fix,
    Same,
    Tied,
}

/// <summary>One of the things done: two unknowns made one, one given its value, or a question and its answer.</summary>
internal readonly record struct Deed(DeedKind Kind, int A, int B, double Number, bool Answer);

/// <summary>Which unknown stands for each raw one in a system, and which of them each equation touches in which order.</summary>
internal sealed record SystemSlots(Equation[] Equations, int[] UnknownOf, int[][] Columns, int[][] Slots);

/// <summary>
/// What the sizes of a sketch did while they were written, in order, so that they can be written again with other values
/// onto the same rules. Sizes come after all rules, and what one does hangs on its own value and on the answers it got; where every
/// deed and every answer is the same but for numbers, so is the structure of the system.
/// </summary>
internal sealed class SizesWritten
{
    private readonly List<Deed> deeds = [];
    private readonly List<Size> sizes = [];

    /// <summary>The classes of unknowns as the rules alone leave them.</summary>
    public AffineUnion? Ruled { get; private set; }

    public int RedundantBefore { get; private set; }

    public int ClashingBefore { get; private set; }

    private (int Equations, int Unknowns) Before { get; set; }

    private bool Open { get; set; }

    public Size this[int size] => sizes[size];

    public void Begin(AffineUnion ruled, int equations, int unknowns, int redundant, int clashing) =>
        (Ruled, Before, RedundantBefore, ClashingBefore, Open) = (ruled, (equations, unknowns), redundant, clashing, true);

    public void Do(in Deed deed)
    {
        if (Open)
        {
            deeds.Add(deed);
        }
    }

    public void End(double? value, int equations, int unknowns) => sizes.Add(new Size(value, deeds.Count, equations, unknowns));

    /// <summary>All sizes are written; questions that are asked from now on belong to none.</summary>
    public void Close() => Open = false;

    /// <summary>What one of the sizes did.</summary>
    public ReadOnlySpan<Deed> Deeds(int size) =>
        System.Runtime.InteropServices.CollectionsMarshal.AsSpan(deeds)[(size > 0 ? sizes[size - 1].Deeds : 0)..sizes[size].Deeds];

    /// <summary>A size as it was written: its value, and how much there was when it was done.</summary>
    internal readonly record struct Size(double? Value, int Deeds, int Equations, int Unknowns);

    /// <summary>One size on its way to be written again, step by step beside what it did before.</summary>
    internal sealed class Again(SizesWritten before, int size)
    {
        private int deed = size > 0 ? before.sizes[size - 1].Deeds : 0;
        private int equation = size > 0 ? before.sizes[size - 1].Equations : before.Before.Equations;
        private int unknown = size > 0 ? before.sizes[size - 1].Unknowns : before.Before.Unknowns;
        private bool alike = true;

        /// <summary>Whether all was done again, in the same order, and nothing else.</summary>
        public bool Alike =>
            alike && (deed, equation, unknown) == (before.sizes[size].Deeds, before.sizes[size].Equations, before.sizes[size].Unknowns);

        public void Do(in Deed now)
        {
            alike &= deed < before.sizes[size].Deeds && before.deeds[deed] with { Number = 0 } == now with { Number = 0 };
            deed++;
        }

        /// <summary>The next unknown that the size brought along; null where it had no more.</summary>
        public int? Unknown()
        {
            alike &= unknown < before.sizes[size].Unknowns;
            return alike ? unknown++ : null;
        }

        /// <summary>Where the next equation of the size stands; null where there was no such one.</summary>
        public int? Equation(List<Equation> equations, Equation now)
        {
            alike &=
                equation < before.sizes[size].Equations
                && equations[equation].GetType() == now.GetType()
                && equations[equation].RawVariables.AsSpan().SequenceEqual(now.RawVariables);
            return alike ? equation++ : null;
        }
    }
}
