using Ratiogon.Bench;

// Prints one line for each figure: what, the measured value, the aim.
if (args is not [var what, .. var rest])
{
    Console.Error.WriteLine(
        "bench: drag | datums | forms PROGRAM | steps | workers | corpus FOLDER | damaged N | gauge PROGRAM | triangles "
            + "| judging | growth | least-squares PROGRAM FOLDER | picture ADDRESS | latency ADDRESS | flood ADDRESS | load ADDRESS | asking | servers"
    );
    return 2;
}

switch (what)
{
    case "drag":
        DragBench.Run(20, 2);
        DragBench.Run(100, 4);
        DragBench.RunObliqueChain(100, 4);
        SolveBench.Run(20);
        SolveBench.Run(100);
        SolveBench.Run(400);
        return 0;
    case "datums":
        DatumBench.Run();
        return 0;
    case "forms":
        FormBench.Run(rest[0]);
        return 0;
    case "damaged":
        DamagedFiles.Run(int.Parse(rest[0], System.Globalization.CultureInfo.InvariantCulture));
        return 0;
    case "damaged-inside":
        DamagedFiles.Inside(
            (Ratiogon.Core.Kernel.BodyFormat)int.Parse(rest[0], System.Globalization.CultureInfo.InvariantCulture),
            int.Parse(rest[1], System.Globalization.CultureInfo.InvariantCulture),
            int.Parse(rest[2], System.Globalization.CultureInfo.InvariantCulture)
        );
        return 0;
    case "corpus":
        CorpusBench.Run(rest[0]);
        return 0;
    case "workers":
        await WorkerBench.RunAsync();
        return 0;
    case "servers":
        await ServersBench.RunAsync();
        return 0;
    case "previews":
        await PreviewBench.RunAsync();
        return 0;
    case "steps":
        FormBench.Growth();
        FormBench.Fillets();
        return 0;
    case "gauge":
        GaugeBench.Run(rest[0]);
        return 0;
    case "triangles":
        GaugeBench.Triangles();
        return 0;
    case "form-profile":
        FormBench.Profile();
        return 0;
    case "judging":
        JudgingBench.Run();
        return 0;
    case "growth":
        GrowthBench.Run();
        return 0;
    case "least-squares":
        LeastSquaresBench.Run(rest[0], rest[1]);
        return 0;
    case "latency":
        LatencyBench.Run(new Uri(rest[0]));
        return 0;
    case "asking":
        AskBench.Run();
        return 0;
    case "flood":
        await FloodBench.RunAsync(new Uri(rest[0]));
        return 0;
    case "load":
        await LoadBench.RunAsync(new Uri(rest[0]));
        return 0;
    case "picture":
        PictureBench.Run(new Uri(rest[0]));
        return 0;
    default:
        Console.Error.WriteLine($"bench: unknown '{what}'");
        return 2;
}
