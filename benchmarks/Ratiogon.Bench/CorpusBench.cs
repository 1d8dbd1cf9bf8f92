using System.Text.Json;
using OpenQA.Selenium;
using Ratiogon.Core;
using Ratiogon.Core.Geometry;
using Ratiogon.Core.Sketches;
using Ratiogon.Core.Sketches.Editing;
using Ratiogon.Exchange;

namespace Ratiogon.Bench;

/// <summary>Drawings of other hands, read and held against what a browser says of the same files: the lengths and the boxes of all
/// that they draw.</summary>
internal static class CorpusBench
{
    private const int AtATime = 150,
        Sampled = 1000;

    /// <summary>A browser measures lengths by stretches, boxes exactly but for its short numbers.</summary>
    private const double LengthSlack = 2e-3,
        BoxSlack = 2e-4;

    private const double MillimetresPerPixel = 25.4 / 96;

    /// <summary>Of each drawing (lengths of circles, ellipses and rounded rectangles by themselves, since the browser is a percent
    /// short there): the length of all shapes and their box (left, top, right, bottom) in CSS pixels, or null where that
    /// cannot be told without more than boxes and lengths. What is not rendered does not count.</summary>
    private const string Script = """
        const round = (a, b) => { let sum = 0; for (let i = 0; i < 720; i++) { const t = (i + 0.5) * Math.PI / 360; sum += Math.hypot(a * Math.sin(t), b * Math.cos(t)); } return sum * Math.PI / 360; };
        const lengthOf = e => {
          const v = k => e[k].baseVal.value;
          if (e.nodeName === 'circle') return 2 * Math.PI * v('r');
          if (e.nodeName === 'ellipse') return round(v('rx'), v('ry'));
          if (e.nodeName !== 'rect') return e.getTotalLength();
          let [w, h, rx, ry] = [v('width'), v('height'), e.hasAttribute('rx') ? v('rx') : v('ry'), e.hasAttribute('ry') ? v('ry') : v('rx')];
          [rx, ry] = [Math.min(rx, w / 2), Math.min(ry, h / 2)];
          return w > 0 && h > 0 ? 2 * (w + h) - 4 * (rx + ry) + round(rx, ry) : 0;
        };
        const out = [];
        for (const text of arguments[0]) {
          const holder = document.createElement('div');
          const parsed = new DOMParser().parseFromString(text, 'image/svg+xml').documentElement;
          if (parsed.nodeName !== 'svg' || parsed.querySelector('use,text,image,style,switch,foreignObject,svg,[clip-path],[style*=clip]')) { out.push(null); continue; }
          holder.appendChild(document.importNode(parsed, true));
          document.body.replaceChildren(holder);
          const svg = holder.firstChild, box = svg.viewBox.baseVal;
          if (box && box.width && !(svg.hasAttribute('width') && svg.hasAttribute('height'))) {
            if (svg.hasAttribute('width') || svg.hasAttribute('height')) { out.push(null); continue; }
            svg.setAttribute('width', box.width); svg.setAttribute('height', box.height);
          }
          let length = 0, low = [1e300, 1e300], high = [-1e300, -1e300], fit = true;
          for (const e of svg.querySelectorAll('path,rect,circle,ellipse,line,polyline,polygon')) {
            if (e.closest('defs,clipPath,mask,symbol,pattern,marker') || getComputedStyle(e).display === 'none' || getComputedStyle(e).visibility !== 'visible') continue;
            for (let p = e.parentElement; p && p !== holder; p = p.parentElement) if (getComputedStyle(p).display === 'none') fit = null;
            const m = e.getCTM();
            if (fit === null || !m) { fit = false; break; }
            const own = lengthOf(e);
            if (own === 0) continue;
            const s = Math.hypot(m.a, m.b);
            if (Math.abs(Math.hypot(m.c, m.d) - s) > 1e-6 * s || Math.abs(m.a * m.c + m.b * m.d) > 1e-6 * s * s || (Math.abs(m.b) > 1e-9 && Math.abs(m.a) > 1e-9)) { fit = false; break; }
            length += own * s;
            const b = e.getBBox();
            for (const [x, y] of [[b.x, b.y], [b.x + b.width, b.y + b.height]]) {
              const p = [m.a * x + m.c * y + m.e, m.b * x + m.d * y + m.f];
              low = low.map((v, i) => Math.min(v, p[i])); high = high.map((v, i) => Math.max(v, p[i]));
            }
          }
          out.push(fit && length > 0 ? [length, ...low, ...high] : null);
        }
        return JSON.stringify(out);
        """;

    public static void Run(string folder)
    {
        var files = Directory.GetFiles(folder, "*.svg", SearchOption.AllDirectories).Order(StringComparer.Ordinal).ToList();
        using var browser = new Browser.Tests.Browser(new Uri("about:blank"));
        browser.Driver.Navigate().GoToUrl("about:blank");
        browser.Driver.Manage().Timeouts().AsynchronousJavaScript = TimeSpan.FromMinutes(2);
        var (read, compared, wrong, refused) = (0, 0, new List<string>(), new List<string>());
        foreach (var some in files.Chunk(AtATime))
        {
            var texts = some.Select(File.ReadAllText).ToArray();
            var theirs = JsonSerializer.Deserialize<double[]?[]>(
                (string)((IJavaScriptExecutor)browser.Driver).ExecuteScript(Script, [texts.Cast<object>().ToArray()])!
            )!;
            for (var i = 0; i < some.Length; i++)
            {
                var ours = SvgSketch.Read(File.ReadAllBytes(some[i]), Sketch.Empty);
                if (!ours.Done)
                {
                    refused.Add($"{Path.GetRelativePath(folder, some[i])}: {ours.Refusal!.Message}");
                    continue;
                }

                read++;
                if (theirs[i] is not { } said)
                {
                    continue;
                }

                compared++;
                if (Apart(Measured(ours.Value), said) is { } how)
                {
                    wrong.Add($"{Path.GetRelativePath(folder, some[i])}: {how}");
                }
            }
        }

        refused.Take(30).ToList().ForEach(r => Console.WriteLine($"  refused  {r}"));
        wrong.Take(30).ToList().ForEach(w => Console.WriteLine($"  differs  {w}"));
        Console.WriteLine(
            $"{"drawings of other hands read", -72} {read} of {files.Count} = {100.0 * read / files.Count:0.00} %{"", -16} "
                + $"aim 99.9 %   {(read >= 0.999 * files.Count ? "met" : "MISSED")}"
        );
        Console.WriteLine(
            $"{"lengths and boxes held against a browser's", -72} {compared} compared, {wrong.Count} differ{"", -16} aim 0   "
                + $"{(wrong.Count == 0 ? "met" : "MISSED")}"
        );
    }

    /// <summary>Length and box (left, top, right, bottom, y down) of what a sketch got, in millimetres; where it lies does not
    /// count.</summary>
    private static double[] Measured(SketchEdit edit)
    {
        var sketch = Sketch.Empty with { Entities = [.. Sketch.Empty.Entities, .. edit.Add] };
        var (length, low, high) = (0.0, new Vec2(1e300, 1e300), new Vec2(-1e300, -1e300));
        void Reach(Vec2 p) =>
            (low, high) = (new Vec2(Math.Min(low.X, p.X), Math.Min(low.Y, p.Y)), new Vec2(Math.Max(high.X, p.X), Math.Max(high.Y, p.Y)));
        foreach (var entity in edit.Add)
        {
            if (entity is LineEntity line)
            {
                var (a, b) = (sketch.At(line.From), sketch.At(line.To));
                length += a.DistanceTo(b);
                Reach(a);
                Reach(b);
            }

            if (entity is PointEntity || CurveOf(sketch, entity) is not { } curve)
            {
                continue;
            }

            length += curve.Length(0, curve.End);
            for (var i = 0; i <= Sampled; i++)
            {
                Reach(curve.At(curve.End * i / Sampled));
            }
        }

        return [length, low.X, -high.Y, high.X, -low.Y];
    }

    private static PlaneCurve? CurveOf(Sketch sketch, SketchEntity entity)
    {
        EllipseCurve Round(string centre, double radius, double from, double sweep) =>
            new(sketch.At(centre), new Vec2(radius, 0), new Vec2(0, radius), from, sweep);
        switch (entity)
        {
            case CircleEntity circle:
                return Round(circle.Centre, circle.Radius, 0, 2 * Math.PI);
            case ArcEntity arc:
                var (a, b) = (sketch.At(arc.From) - sketch.At(arc.Centre), sketch.At(arc.To) - sketch.At(arc.Centre));
                var (from, to) = (Math.Atan2(a.Y, a.X), Math.Atan2(b.Y, b.X));
                return Round(arc.Centre, a.Length, from, to <= from + 1e-9 ? to - from + (2 * Math.PI) : to - from);
            default:
                return Curves.Of(sketch, entity);
        }
    }

    private static string? Apart(double[] ours, double[] theirs)
    {
        double[] mm = [.. theirs.Select(v => v * MillimetresPerPixel)];
        var size = Math.Max(mm[3] - mm[1], mm[4] - mm[2]);
        if (Math.Abs(ours[0] - mm[0]) > LengthSlack * mm[0])
        {
            return $"{ours[0]:0.####} mm long, the browser says {mm[0]:0.####}";
        }

        var (w, h, ow, oh) = (mm[3] - mm[1], mm[4] - mm[2], ours[3] - ours[1], ours[4] - ours[2]);
        return Math.Abs(w - ow) > BoxSlack * size || Math.Abs(h - oh) > BoxSlack * size
            ? $"{ow:0.####} x {oh:0.####} mm, the browser says {w:0.####} x {h:0.####}"
            : null;
    }
}
