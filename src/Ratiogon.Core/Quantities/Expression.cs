namespace Ratiogon.Core.Quantities;

/// <summary>A parsed formula, evaluated with units checked at every step.</summary>
internal abstract record Expression
{
    public abstract Outcome<Quantity> Evaluate(Func<string, Outcome<Quantity>> lookUp);

    /// <summary>Adds the parameter names that the formula reads.</summary>
    public virtual void CollectNames(ISet<string> names) { }

    internal sealed record Literal(Quantity Quantity) : Expression
    {
        public override Outcome<Quantity> Evaluate(Func<string, Outcome<Quantity>> lookUp) => Quantity;
    }

    internal sealed record Name(string Text) : Expression
    {
        public override Outcome<Quantity> Evaluate(Func<string, Outcome<Quantity>> lookUp) => lookUp(Text);

        public override void CollectNames(ISet<string> names) => names.Add(Text);
    }

    internal sealed record Negation(Expression Inner) : Expression
    {
        public override Outcome<Quantity> Evaluate(Func<string, Outcome<Quantity>> lookUp) =>
            Inner.Evaluate(lookUp).Map(q => q with { Value = -q.Value });

        public override void CollectNames(ISet<string> names) => Inner.CollectNames(names);
    }

    /// <summary>A bracketed number given its unit afterwards: <c>(2*40) mm</c>.</summary>
    internal sealed record WithUnit(Expression Inner, string Unit, Quantity One) : Expression
    {
        public override Outcome<Quantity> Evaluate(Func<string, Outcome<Quantity>> lookUp) =>
            Inner
                .Evaluate(lookUp)
                .Then<Quantity>(q =>
                    q.Dimension == Dimension.None
                        ? new Quantity(q.Value * One.Value, One.Dimension)
                        : new Refusal("formula.unit", $"'{Unit}' follows {q.Dimension.Words}, which has a unit already.")
                );

        public override void CollectNames(ISet<string> names) => Inner.CollectNames(names);
    }

    internal sealed record Binary(char Operator, Expression Left, Expression Right) : Expression
    {
        public override void CollectNames(ISet<string> names)
        {
            Left.CollectNames(names);
            Right.CollectNames(names);
        }

        public override Outcome<Quantity> Evaluate(Func<string, Outcome<Quantity>> lookUp)
        {
            var left = Left.Evaluate(lookUp);
            if (!left.Done)
            {
                return left;
            }

            var right = Right.Evaluate(lookUp);
            return right.Done ? Apply(left.Value, right.Value) : right;
        }

        private Outcome<Quantity> Apply(Quantity a, Quantity b) =>
            Operator switch
            {
                '+' or '-' when a.Dimension != b.Dimension => Mixed(a, b),
                '+' => a with { Value = a.Value + b.Value },
                '-' => a with { Value = a.Value - b.Value },
                '*' => new Quantity(a.Value * b.Value, a.Dimension + b.Dimension),
                '/' when b.Value == 0 => new Refusal("formula.divide-by-zero", "The formula divides by zero."),
                '/' => new Quantity(a.Value / b.Value, a.Dimension - b.Dimension),
                '^' => Power(a, b),
                _ => throw new InvalidOperationException($"unknown operator {Operator}"),
            };

        private Refusal Mixed(Quantity a, Quantity b)
        {
            var hint = a.Dimension == Dimension.None || b.Dimension == Dimension.None ? " Give the plain number a unit, such as mm." : "";
            return new Refusal("formula.mixed-units", $"'{Operator}' cannot join {a.Dimension.Words} and {b.Dimension.Words}.{hint}");
        }

        private static Outcome<Quantity> Power(Quantity a, Quantity b)
        {
            if (b.Dimension != Dimension.None)
            {
                return new Refusal("formula.power", $"An exponent must be a plain number, not {b.Dimension.Words}.");
            }

            if (a.Dimension != Dimension.None && (b.Value != Math.Floor(b.Value) || Math.Abs(b.Value) > 6))
            {
                return new Refusal("formula.power", $"{a.Dimension.Words} can only be raised to a small whole number.");
            }

            return new Quantity(Math.Pow(a.Value, b.Value), a.Dimension == Dimension.None ? Dimension.None : a.Dimension * (int)b.Value);
        }
    }

    internal sealed record Call(Function Function, IReadOnlyList<Expression> Arguments) : Expression
    {
        public override void CollectNames(ISet<string> names)
        {
            foreach (var argument in Arguments)
            {
                argument.CollectNames(names);
            }
        }

        public override Outcome<Quantity> Evaluate(Func<string, Outcome<Quantity>> lookUp)
        {
            var values = new Quantity[Arguments.Count];
            for (var i = 0; i < values.Length; i++)
            {
                var value = Arguments[i].Evaluate(lookUp);
                if (!value.Done)
                {
                    return value;
                }

                values[i] = value.Value;
            }

            return Function.Apply(values);
        }
    }
}
