using Ratiogon.Core;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.Core.Sketches;

namespace Ratiogon.Solids.Tests.Rig;

/// <summary>Forms on forms: how far an extrude goes, turns, pipes, holes against turned cuts, copies of features against the same features
/// made one by one, whole parts made larger.</summary>
internal static partial class FormRig
{
    /// <summary>A frame anywhere, turned any way.</summary>
    private static AddStep Frame(string id, Rig r, double reach) =>
        Frame(id, r.In(-reach, reach), r.In(-reach, reach), r.In(-reach, reach), r.Turn(), r.Turn(), r.Turn());

    private static AddStep Frame(string id, double x, double y, double z, double a = 0, double b = 0, double c = 0) =>
        new(new FrameStep(id, 0, "", [new DatumCondition("free", []) { Values = [Mm(x), Mm(y), Mm(z), Deg(a), Deg(b), Deg(c)] }]));

    /// <summary>A frame above the frame <c>f</c>, turned about its own axes.</summary>
    private static AddStep Raised(string id, double by, double a = 0, double b = 0, string f = "f") =>
        new(new FrameStep(id, 0, "", [new DatumCondition("like", [f]) { Values = ["0 mm", "0 mm", Mm(by), Deg(a), Deg(b), "0 deg"] }]));

    private static Vec2[] Corners(double w, double d, double x = 0, double y = 0, double turn = 0) =>
        [
            .. new Vec2[] { new(-w / 2, -d / 2), new(w / 2, -d / 2), new(w / 2, d / 2), new(-w / 2, d / 2) }.Select(p => new Vec2(
                x + (p.X * Math.Cos(turn)) - (p.Y * Math.Sin(turn)),
                y + (p.X * Math.Sin(turn)) + (p.Y * Math.Cos(turn))
            )),
        ];

    private static Verdict Volume(Rig r, Part part, double expected, string words) =>
        r.Built(part, "k").Sum(b => b.Mass.Volume) is var now && Same(now, expected, expected)
            ? r.Right(words)
            : r.Wrong($"{words}: {now:R}, not {expected:R}");

    /// <summary>A prism of every extent: its area by how far it goes, to a leaning plane by the height over its middle.</summary>
    private static Verdict Extent(Rig r)
    {
        var (w, d, h, back) = (r.In(8, 40), r.In(8, 40), r.In(5, 40), r.In(3, 30));
        var round = r.Random.Next(2) == 0;
        var area = round ? Math.PI * w * w / 4 : w * d;
        PartCommand[] drawn =
        [
            Frame("f", r, 30),
            .. Parts.Sketched("s", "f", round ? Parts.Circle("c", 0, 0, w / 2) : Loose(Corners(w, d))),
        ];
        var form = new ExtrudeStep("k", 0, "", "s")
        {
            Length = Mm(h),
            Flip = r.Random.Next(2) == 0,
            Start = r.Random.Next(3) == 0 ? Mm(r.In(-20, 20)) : null,
        };
        Verdict Is(ExtrudeStep step, double expected, string words, params PartCommand[] more) =>
            Volume(r, Parts.Of([.. drawn, .. more, new AddStep(step)]), expected, words);

        var kind = r.Random.Next(7);
        switch (kind)
        {
            case 0:
                return Is(form with { Extent = ExtrudeExtent.Symmetric }, area * h, "both ways alike");
            case 1:
                return Is(form with { Extent = ExtrudeExtent.TwoLengths, Second = Mm(back) }, area * (h + back), "a length each way");
            case 2:
                // Along a line that leans from the normal: the length runs along it.
                var lean = r.Random.Next(5, 60);
                return Is(
                    form with
                    {
                        Along = "a",
                    },
                    area * h * Math.Cos(lean * Math.PI / 180),
                    $"along a line {lean} deg aside",
                    Raised("g", 0, lean),
                    new AddStep(new AxisStep("a", 0, "", [new DatumCondition("along", ["g/z"])]))
                );
            case 3:
                // The middle of the outline is on the frame's axis, where the leaning plane is met; it may pass through the outline.
                var tilt = r.Random.Next(1, 35);
                var up = r.In(1, 200);
                return Is(
                    form with
                    {
                        Extent = ExtrudeExtent.To,
                        To = "g",
                        Flip = false,
                        Start = null,
                    },
                    area * up,
                    $"to a plane {tilt} deg aside",
                    Raised("g", up, tilt, r.Random.Next(0, 10))
                );
            case 4:
                // Sides that lean from where it begins, both ways.
                var angle = r.Random.Next(-20, 20);
                var both = form with { Extent = ExtrudeExtent.Symmetric, Draft = Deg(angle) };
                var by = -h / 2 * Math.Tan(angle * Math.PI / 180);
                var half = round
                    ? Math.PI * h / 2 / 3 * ((w * w / 4) + (w / 2 * ((w / 2) + by)) + (((w / 2) + by) * ((w / 2) + by)))
                    : h / 2 / 6 * ((w * d) + (4 * (w + by) * (d + by)) + ((w + (2 * by)) * (d + (2 * by))));
                return by < 0 && Math.Min(w, round ? w : d) + (2 * by) <= 0
                    ? r.Refused("no such prism")
                    : Is(both, 2 * half, $"both ways, {angle} deg");
            case 5:
                var t = 0.4 * Math.Min(w, d) * (0.1 + (0.9 * r.Random.NextDouble()));
                var side = (WallSide)r.Random.Next(1, 4);
                var (inwards, outwards) = side switch
                {
                    WallSide.Inside => (t, 0.0),
                    WallSide.Outside => (0.0, t),
                    _ => (t / 2, t / 2),
                };
                var hollow = round
                    ? Math.PI * (Math.Pow((w / 2) + outwards, 2) - Math.Pow((w / 2) - inwards, 2))
                    : ((w + (2 * outwards)) * (d + (2 * outwards))) - ((w - (2 * inwards)) * (d - (2 * inwards)));
                return Is(form with { Wall = side, Thickness = Mm(t) }, hollow * h, $"wall {side}");
            default:
                // A cut through everything leaves a window in a block about it.
                var (bw, bd) = (w * 1.5, Math.Max(w, d) * 1.5);
                return Volume(
                    r,
                    Parts.Of([
                        .. drawn,
                        .. Parts.Sketched("bs", "f", Loose(Corners(bw, bd))),
                        new AddStep(
                            new ExtrudeStep("b", 0, "", "bs")
                            {
                                Length = Mm(h),
                                Extent = r.Random.Next(2) == 0 ? ExtrudeExtent.Length : ExtrudeExtent.Symmetric,
                            }
                        ),
                        new AddStep(form with { Extent = ExtrudeExtent.ThroughAll, Operation = FormOperation.Cut, Start = null }),
                    ]),
                    ((bw * bd) - area) * h,
                    "through all"
                );
        }
    }

    /// <summary>Turned about an axis beside it, at it or by an angle: area by the way of its middle (Pappus).</summary>
    private static Verdict TurnedPart(Rig r)
    {
        var (w, d) = (r.In(4, 20), r.In(4, 30));
        var off = r.Random.Next(3) == 0 ? 0 : r.In(1, 30);
        var (angle, second) = (r.Random.Next(5, 170), r.Random.Next(5, 170));
        var extent = (RevolveExtent)r.Random.Next(4);
        var turn = extent switch
        {
            RevolveExtent.Full => 360,
            RevolveExtent.TwoAngles => angle + second,
            _ => angle,
        };
        return Volume(
            r,
            Parts.Of([
                Frame("f", r, 30),
                .. Parts.Sketched("s", "f", Loose(Corners(w, d, off + (w / 2), r.In(-10, 10)))),
                new AddStep(
                    new RevolveStep("k", 0, "", "s", "f/y")
                    {
                        Extent = extent,
                        Angle = Deg(angle),
                        Second = Deg(second),
                        Flip = r.Random.Next(2) == 0,
                    }
                ),
            ]),
            w * d * (off + (w / 2)) * turn * Math.PI / 180,
            $"turned {extent}"
        );
    }

    /// <summary>A pipe or a profile along a straight, a bend and a straight: area by the way of its middle.</summary>
    private static Verdict Pipe(Rig r)
    {
        var (straight, bend, d) = (r.In(5, 40), r.In(6, 40), r.In(3, 30));
        var bore = r.Random.Next(2) == 0 ? d * r.Random.NextDouble() * 0.9 : 0;
        var length = (2 * straight) + (bend * Math.PI / 2);
        PartCommand[] path = [Frame("f", r, 30), .. Parts.Sketched("s", "f", Parts.Bend(straight, bend))];
        if (r.Random.Next(2) == 0)
        {
            return Volume(
                r,
                Parts.Of([
                    .. path,
                    new AddStep(
                        new SweepStep("k", 0, "", ["s/a", "s/bend", "s/b"])
                        {
                            Profile = SweepProfile.Round,
                            Diameter = Mm(d),
                            Bore = bore > 0 ? Mm(bore) : null,
                        }
                    ),
                ]),
                Math.PI / 4 * ((d * d) - (bore * bore)) * length,
                "pipe"
            );
        }

        var (w, t) = (d * 0.8, r.In(2, 20));
        return Volume(
            r,
            Parts.Of([
                .. path,
                .. Parts.Sketched("p", "f", Loose(Corners(w, t))),
                new AddStep(
                    new SweepStep("k", 0, "", ["s/a", "s/bend", "s/b"])
                    {
                        Profile = SweepProfile.Sketch,
                        Sketch = "p",
                        Brought = true,
                    }
                ),
            ]),
            w * t * length,
            "profile"
        );
    }

    /// <summary>A hole anywhere in a block, out of its sides as well, against the same outline turned and taken away.</summary>
    private static Verdict Drilled(Rig r)
    {
        var (w, d, h, hole) = (r.In(20, 60), r.In(20, 60), r.In(8, 40), r.In(2, 10));
        var (x, y) = (r.In(-0.6, 0.6) / r.Scale * w, r.In(-0.6, 0.6) / r.Scale * d);
        var (depth, point) = (r.In(2, 50), r.Random.Next(2) == 0 ? 180 : r.Random.Next(60, 150));
        var head = (HoleHead)r.Random.Next(3);
        var (wide, deep, sink) = (hole * (1.2 + r.Random.NextDouble()), depth * 0.5 * r.Random.NextDouble(), r.Random.Next(60, 130));
        var cone = head == HoleHead.Countersink ? (wide - hole) / 2 / Math.Tan(sink * Math.PI / 360) : 0;
        if (cone >= depth)
        {
            return r.Refused("no such hole");
        }

        PartCommand[] block =
        [
            .. Parts.Sketched("bs", World.Xy, Loose(Corners(w, d))),
            new AddStep(new ExtrudeStep("b", 0, "", "bs") { Length = Mm(h) }),
        ];
        List<Vec2> outline = [new(0, 0)];
        if (head == HoleHead.Counterbore)
        {
            outline.AddRange([new(wide / 2, 0), new(wide / 2, -deep)]);
        }
        else if (head == HoleHead.Countersink)
        {
            outline.Add(new(wide / 2, 0));
        }

        outline.Add(new(hole / 2, -(head == HoleHead.Counterbore ? deep : cone)));
        outline.Add(new(hole / 2, -depth));
        outline.Add(new(0, -depth - (point == 180 ? 0 : hole / 2 / Math.Tan(point * Math.PI / 360))));
        var turned = r.Built(
                Parts.Of([
                    .. block,
                    Frame("f", x, y, h, 90),
                    .. Parts.Sketched("s", "f", Loose([.. outline])),
                    new AddStep(new RevolveStep("k", 0, "", "s", "f/y") { Operation = FormOperation.Cut }),
                ]),
                "k"
            )
            .Sum(b => b.Mass.Volume);
        return Volume(
            r,
            Parts.Of([
                .. block,
                Frame("p", 0, 0, h),
                .. Parts.Sketched("s", "p", Parts.Circle("c", x, y, hole)),
                new AddStep(
                    new HoleStep("k", 0, "", ["s/c"])
                    {
                        Diameter = Mm(hole),
                        Depth = Mm(depth),
                        Point = Deg(point),
                        Head = head,
                        HeadDiameter = Mm(wide),
                        HeadDepth = Mm(deep),
                        HeadAngle = Deg(sink),
                        From = HoleFrom.Point,
                    }
                ),
            ]),
            turned,
            $"hole {head}"
        );
    }

    /// <summary>What features stand on: solid, rounded or hollow. Its frame is <c>f</c>, its top <paramref name="h"/> above it; all names
    /// begin with <paramref name="q"/>.</summary>
    private static PartCommand[] Stand(Rig r, double w, double d, double h, string q = "")
    {
        var kind = r.Random.Next(5);
        r.Bodies.Add($"stand {kind}");
        PartCommand[] block =
        [
            .. Parts.Sketched($"{q}bs", $"{q}f", kind == 0 ? Parts.Circle("c", 0, 0, w / 2) : Loose(Corners(w, d))),
            new AddStep(new ExtrudeStep($"{q}b", 0, "", $"{q}bs") { Operation = FormOperation.Body, Length = Mm(h) }),
            Raised($"{q}p", h, f: $"{q}f"),
        ];
        return kind switch
        {
            1 =>
            [
                .. block,
                new AddStep(
                    new FilletStep($"{q}br", 0, "", [$"{q}b/side/l0^{q}b/side/l1", $"{q}b/side/l2^{q}b/side/l3"])
                    {
                        Radius = Mm(Math.Min(w, d) * 0.2),
                    }
                ),
            ],
            2 =>
            [
                .. block,
                new AddStep(new ShellStep($"{q}bh", 0, "", [$"{q}b/start"]) { Thickness = Mm(Math.Min(Math.Min(w, d), h) * 0.15) }),
            ],
            3 =>
            [
                .. block,
                new AddStep(
                    new ChamferStep($"{q}bc", 0, "", [$"{q}b/end^{q}b/side/l0", $"{q}b/end^{q}b/side/l2"])
                    {
                        Size = Mm(Math.Min(d, h) * 0.15),
                    }
                ),
            ],
            _ => block,
        };
    }

    /// <summary>One feature on the top of a stand: a pocket, a boss or a hole, in its own sketch.</summary>
    private static PartCommand[] Feature(string id, int kind, double x, double y, double turn, double size, double depth, string q = "") =>
        [
            .. Parts.Sketched(
                $"{id}s",
                $"{q}p",
                kind == 1 ? Loose(Corners(size, size * 0.6, x, y, turn)) : Parts.Circle("c", x, y, size / 2)
            ),
            new AddStep(
                kind == 3
                    ? new HoleStep(id, 0, "", [$"{id}s/c"])
                    {
                        Diameter = Mm(size),
                        Depth = Mm(depth),
                        From = HoleFrom.Point,
                        Bodies = [$"{q}b"],
                    }
                    : new ExtrudeStep(id, 0, "", $"{id}s")
                    {
                        Length = Mm(depth),
                        Flip = kind != 2,
                        Operation = kind == 2 ? FormOperation.Join : FormOperation.Cut,
                        Bodies = [$"{q}b"],
                    }
            ),
        ];

    /// <summary>A feature in rows or about an axis, against the same features made one by one.</summary>
    private static Verdict Repeated(Rig r)
    {
        var (w, d, h) = (r.In(30, 80), r.In(30, 80), r.In(8, 40));
        var (size, depth, kind) = (r.In(3, 14), r.In(2, 45), r.Random.Next(4));
        var (x, y) = (r.In(-12, 12), r.In(-12, 12));
        PartCommand[] stand = [Frame("f", r, 20), .. Stand(r, w, d, h)];
        var round = r.Random.Next(2) == 0;
        var (n, rows) = (r.Random.Next(2, 6), r.Random.Next(1, 3));
        var (pitch, between, over) = (r.In(-16, 16), r.In(4, 20), r.Random.Next(2) == 0 ? 360 : r.Random.Next(30, 300));
        if (Math.Abs(pitch) < 0.5 * r.Scale)
        {
            return r.Refused("copies on one another");
        }

        // All round, the last does not fall on the first.
        var step = over == 360 ? 2 * Math.PI / n : over * Math.PI / 180 / (n - 1);
        var places = round
            ? Enumerable
                .Range(0, n)
                .Select(i =>
                    (
                        X: (x * Math.Cos(i * step)) - (y * Math.Sin(i * step)),
                        Y: (x * Math.Sin(i * step)) + (y * Math.Cos(i * step)),
                        Turn: i * step
                    )
                )
                .ToList()
            :
            [
                .. Enumerable
                    .Range(0, rows)
                    .SelectMany(j => Enumerable.Range(0, n).Select(i => (X: x + (i * pitch), Y: y + (j * between), Turn: 0.0))),
            ];
        r.Bodies.Add($"{kind switch { 1 => "pocket", 2 => "boss", 3 => "hole", _ => "round pocket" }} {(round ? "about" : "in rows")}");
        var single = r.Built(
                Parts.Of([.. stand, .. places.SelectMany((p, i) => Feature($"k{i}", kind, p.X, p.Y, p.Turn, size, depth))]),
                "k0"
            )
            .Sum(b => b.Mass.Volume);
        return Volume(
            r,
            Parts.Of([
                .. stand,
                .. Feature("a", kind, x, y, 0, size, depth),
                new AddStep(
                    new PatternStep("k", 0, "", ["a"])
                    {
                        Layout = round ? PatternLayout.Circular : PatternLayout.Linear,
                        Along = "f/x",
                        Across = rows > 1 ? "f/y" : null,
                        Axis = "f/z",
                        Count = $"{n}",
                        Rows = $"{rows}",
                        Spacing = Mm(pitch),
                        RowSpacing = Mm(between),
                        Angle = Deg(over),
                    }
                ),
            ]),
            single,
            string.Join(", ", r.Bodies)
        );
    }

    /// <summary>A feature on the other side of a plane, against the same made there; of all forms at once too.</summary>
    private static Verdict Reflected(Rig r)
    {
        var (w, d, h) = (r.In(30, 80), r.In(30, 80), r.In(8, 40));
        var (size, depth, kind) = (r.In(3, 14), r.In(2, 45), r.Random.Next(4));
        var (x, y, turn) = (r.In(-0.5, 0.5) / r.Scale * w, r.In(-0.5, 0.5) / r.Scale * d, r.Turn() * Math.PI / 180);
        PartCommand[] stand = [Frame("f", 0, 0, 0), .. Stand(r, w, d, h)];
        r.Bodies.Add($"{kind switch { 1 => "pocket", 2 => "boss", 3 => "hole", _ => "round pocket" }}");
        var single = r.Built(
                Parts.Of([.. stand, .. Feature("k0", kind, x, y, turn, size, depth), .. Feature("k1", kind, -x, y, -turn, size, depth)]),
                "k0"
            )
            .Sum(b => b.Mass.Volume);
        return Volume(
            r,
            Parts.Of([.. stand, .. Feature("a", kind, x, y, turn, size, depth), new AddStep(new MirrorStep("k", 0, "", ["a"], World.Yz))]),
            single,
            string.Join(", ", r.Bodies)
        );
    }

    /// <summary>A stand with features, roundings on what they made, and all of it once more far away and turned.</summary>
    private static PartCommand[] Chain(Rig r, AddStep frame, string q = "")
    {
        var (w, d, h) = (r.In(30, 80), r.In(30, 80), r.In(8, 40));
        var all = new List<PartCommand> { frame };
        all.AddRange(Stand(r, w, d, h, q));
        for (var n = r.Random.Next(1, 4); n > 0; n--)
        {
            var kind = r.Random.Next(4);
            var (size, depth) = (r.In(3, 14), r.In(2, 45));
            all.AddRange(Feature($"{q}a{n}", kind, r.In(-0.5, 0.5) / r.Scale * w, r.In(-0.5, 0.5) / r.Scale * d, 0.3, size, depth, q));
            if (kind == 2 && r.Random.Next(2) == 0)
            {
                all.Add(
                    new AddStep(
                        new FilletStep($"{q}r{n}", 0, "", [$"{q}a{n}/end^{q}a{n}/side/c"]) { Radius = Mm(Math.Min(size, depth) * 0.2) }
                    )
                );
            }
        }

        return [.. all];
    }

    /// <summary>A chain of forms with every length ten times and a tenth as long: a thousand times and a thousandth of the volume, and the
    /// same faces.</summary>
    private static Verdict Larger(Rig r)
    {
        var state = r.Random.Next();
        Part Of(double scale) => Parts.Of(Chain(r with { Random = new Random(state), Unit = r.Scale * scale }, Frame("f", 0, 0, 0)));
        var (one, more, less) = (r.Built(Of(1), "x"), r.Built(Of(10), "x"), r.Built(Of(0.1), "x"));
        var (a, b, c) = (one.Sum(x => x.Mass.Volume), more.Sum(x => x.Mass.Volume), less.Sum(x => x.Mass.Volume));
        // A seam may divide a face or not.
        var faces = new[] { one, more, less }
            .Select(bodies => string.Join(' ', bodies.SelectMany(x => x.Names.Faces).Select(f => f.Split('[')[0]).Distinct().Order()))
            .Distinct()
            .Count();
        return Same(a, b / 1000, a) && Same(a, c * 1000, a) && faces == 1
            ? r.Right()
            : r.Wrong($"{string.Join(", ", r.Bodies)}: {a:R}, ten times {b:R}, a tenth {c:R}; {faces} sets of faces");
    }

    /// <summary>A chain of forms against another body: what they have together and in common, and far from the origin.</summary>
    private static Verdict Chained(Rig r)
    {
        var state = r.Random.Next();
        PartCommand[] At(AddStep frame) => Chain(r with { Random = new Random(state) }, frame);
        var far = Math.Pow(10, r.Random.Next(1, 5)) * r.Scale;
        var here = r.Built(Parts.Of(At(Frame("f", 0, 0, 0))), "x");
        var there = r.Built(Parts.Of(At(Frame("f", far, -far * 0.7, far * 0.3, r.Turn(), r.Turn(), r.Turn()))), "x");
        var (a, b) = (here.Sum(x => x.Mass.Volume), there.Sum(x => x.Mass.Volume));
        if (!Same(a, b, a) || here.Sum(x => x.Topology.Faces.Length) != there.Sum(x => x.Topology.Faces.Length))
        {
            return r.Wrong($"{string.Join(", ", r.Bodies)}: {a:R}, {far} mm away {b:R}");
        }

        if (here.Length != 1)
        {
            return r.Right("several");
        }

        PartCommand[] both = [.. At(Frame("f", 0, 0, 0)), .. Body(r, "o", 20)];
        var other = r.Built(Parts.Of(both))[1].Mass.Volume;
        double Combined(FormOperation how)
        {
            try
            {
                return r.Built(Parts.Of([.. both, new AddStep(new CombineStep("k", 0, "", "b", ["o"]) { Operation = how })]), "k")
                    .Sum(x => x.Mass.Volume);
            }
            catch (Failed f) when (f.Refused && f.Message.Contains("would be left", StringComparison.Ordinal))
            {
                return 0;
            }
        }

        var (common, joined, cut) = (Combined(FormOperation.Intersect), Combined(FormOperation.Join), Combined(FormOperation.Cut));
        return Same(common + joined, a + other, a + other) && Same(cut + common, a, a)
            ? r.Right()
            : r.Wrong($"{string.Join(", ", r.Bodies)}: together {joined:R}, in common {common:R}, left {cut:R}; alone {a:R} and {other:R}");
    }

    /// <summary>Whole bodies with all that was done to them, in a row or mirrored: against the same made again at the places of the copies
    /// and joined; a mirrored one, against itself mirrored back.</summary>
    private static Verdict Copied(Rig r)
    {
        var (state, pitch, n) = (r.Random.Next(), r.In(5, 90), r.Random.Next(2, 4));
        PartCommand[] At(double x, string q) => Chain(r with { Random = new Random(state) }, Frame($"{q}f", x, 0, 0), q);
        var joined = r.Built(
                Parts.Of([
                    .. Enumerable.Range(0, n).SelectMany(i => At(i * pitch, i == 0 ? "" : $"x{i}")),
                    new AddStep(new CombineStep("k", 0, "", "b", [.. Enumerable.Range(1, n - 1).Select(i => $"x{i}b")])),
                ]),
                "k"
            )
            .Sum(x => x.Mass.Volume);
        var row = Volume(
            r,
            Parts.Of([
                .. At(0, ""),
                new AddStep(
                    new PatternStep("k", 0, "", ["b"])
                    {
                        Whole = true,
                        Along = "world/x",
                        Count = $"{n}",
                        Spacing = Mm(pitch),
                    }
                ),
            ]),
            joined,
            $"{string.Join(", ", r.Bodies.Distinct())}, whole in a row"
        );
        if (row.Outcome == Outcome.Wrong)
        {
            return row;
        }

        var about = new MirrorStep("k", 0, "", ["b"], World.Yz) { Whole = true };
        PartCommand[] beside = At(pitch / 2, "");
        var once = r.Built(Parts.Of([.. beside, new AddStep(about)]), "k").Sum(x => x.Mass.Volume);
        var twice = r.Built(Parts.Of([.. beside, new AddStep(about), new AddStep(about with { Id = "l" })]), "l").Sum(x => x.Mass.Volume);
        return Same(once, twice, once) ? row : r.Wrong($"{string.Join(", ", r.Bodies.Distinct())}: mirrored {once:R}, again {twice:R}");
    }

    /// <summary>A pocket or a boss by its faces, moved on or mirrored, against the feature so repeated.</summary>
    private static Verdict ByFaces(Rig r)
    {
        var (w, d, h) = (r.In(50, 90), r.In(50, 90), r.In(10, 40));
        var (size, depth, kind) = (r.In(3, 10), r.In(2, 9), r.Random.Next(4));
        var (x, y, pitch) = (r.In(-20, -8), r.In(-15, 15), r.In(3, 40));
        PartCommand[] all =
        [
            Frame("f", 0, 0, 0),
            .. Parts.Sketched("bs", "f", Loose(Corners(w, d))),
            new AddStep(new ExtrudeStep("b", 0, "", "bs") { Length = Mm(h), Operation = FormOperation.Body }),
            Raised("p", h),
            .. Feature("a", kind, x, y, r.Round ? 0 : 0.4, size, depth),
        ];
        var faces = r.Built(Parts.Of(all), "a").Single().Names.Faces.Where(f => f.StartsWith("a/", StringComparison.Ordinal)).ToArray();
        var mirrored = r.Random.Next(2) == 0;
        Step Repeated(bool single) =>
            mirrored
                ? new MirrorStep("k", 0, "", single ? [] : ["a"], World.Yz) { Single = single, Faces = single ? [.. faces] : [] }
                : new PatternStep("k", 0, "", single ? [] : ["a"])
                {
                    Single = single,
                    Faces = single ? [.. faces] : [],
                    Along = "world/x",
                    Count = "2",
                    Spacing = Mm(pitch),
                };
        var feature = r.Built(Parts.Of([.. all, new AddStep(Repeated(false))]), "k").Sum(b => b.Mass.Volume);
        return Volume(
            r,
            Parts.Of([.. all, new AddStep(Repeated(true))]),
            feature,
            $"feature {kind}, {(mirrored ? "mirrored" : "in a row")}"
        );
    }

    /// <summary>A profile along a straight, turned about it or not: its area by the way.</summary>
    private static Verdict Twisted(Rig r)
    {
        var (w, d, length) = (r.In(4, 20), r.In(4, 20), r.In(10, 80));
        var keep = (SweepKeep)r.Random.Next(3);
        var part = Parts.Of([
            Frame("f", r, 30),
            .. Parts.Sketched("s", "f", Loose(Corners(w, d))),
            Raised("g", 0, 90),
            .. Parts.Sketched(
                "q",
                "g",
                new() { Add = [new PointEntity("a", Vec2.Zero), new PointEntity("b", new Vec2(0, -length)), new LineEntity("l", "a", "b")] }
            ),
            new AddStep(
                new SweepStep("k", 0, "", ["q/l"])
                {
                    Profile = SweepProfile.Sketch,
                    Sketch = "s",
                    Keep = keep,
                    Twist = keep == SweepKeep.Twist ? Deg(r.Random.Next(-200, 200)) : null,
                }
            ),
        ]);
        var now = r.Built(part, "k").Single().Mass.Volume;
        return Math.Abs(now - (w * d * length)) < (keep == SweepKeep.Twist ? 1e-4 : 1e-9) * now
            ? r.Right($"{keep}")
            : r.Wrong($"{keep}: {now:R}, not {w * d * length:R}");
    }
}
