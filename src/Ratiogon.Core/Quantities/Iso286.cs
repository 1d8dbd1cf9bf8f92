using System.Collections.Immutable;

namespace Ratiogon.Core.Quantities;

/// <summary>
/// Limits and fits (ISO 286-1:2010, tables 1 to 5; ISO 286-2): letters and grades for sizes from 1 to 3150 mm. Numbers are in
/// micrometres, as the standard has them.
/// </summary>
public static class Iso286
{
    /// <summary>Sizes that the tables are for, in millimetres.</summary>
    public const double Smallest = 1,
        Largest = 3150;

    /// <summary>Up to this size holes of many letters have a correction (ISO 286-1, 4.3.2.5), in millimetres.</summary>
    private const double LargestCorrected = 500;

    private const int LastGrade = 18;

    /// <summary>Ends of the main ranges, in millimetres; the end belongs to the range.</summary>
    private static readonly double[] To =
    [
        3,
        6,
        10,
        18,
        30,
        50,
        80,
        120,
        180,
        250,
        315,
        400,
        500,
        630,
        800,
        1000,
        1250,
        1600,
        2000,
        2500,
        3150,
    ];

    /// <summary>Grades 1 to 10 (table 1); from the eleventh on ten times what five grades before have.</summary>
    private static readonly double[][] Grades =
    [
        [0.8, 1, 1, 1.2, 1.5, 1.5, 2, 2.5, 3.5, 4.5, 6, 7, 8, 9, 10, 11, 13, 15, 18, 22, 26],
        [1.2, 1.5, 1.5, 2, 2.5, 2.5, 3, 4, 5, 7, 8, 9, 10, 11, 13, 15, 18, 21, 25, 30, 36],
        [2, 2.5, 2.5, 3, 4, 4, 5, 6, 8, 10, 12, 13, 15, 16, 18, 21, 24, 29, 35, 41, 50],
        [3, 4, 4, 5, 6, 7, 8, 10, 12, 14, 16, 18, 20, 22, 25, 28, 33, 39, 46, 55, 68],
        [4, 5, 6, 8, 9, 11, 13, 15, 18, 20, 23, 25, 27, 32, 36, 40, 47, 55, 65, 78, 96],
        [6, 8, 9, 11, 13, 16, 19, 22, 25, 29, 32, 36, 40, 44, 50, 56, 66, 78, 92, 110, 135],
        [10, 12, 15, 18, 21, 25, 30, 35, 40, 46, 52, 57, 63, 70, 80, 90, 105, 125, 150, 175, 210],
        [14, 18, 22, 27, 33, 39, 46, 54, 63, 72, 81, 89, 97, 110, 125, 140, 165, 195, 230, 280, 330],
        [25, 30, 36, 43, 52, 62, 74, 87, 100, 115, 130, 140, 155, 175, 200, 230, 260, 310, 370, 440, 540],
        [40, 48, 58, 70, 84, 100, 120, 140, 160, 185, 210, 230, 250, 280, 320, 360, 420, 500, 600, 700, 860],
    ];

    /// <summary>Letters whose deviation holds for a whole main range.</summary>
    private static readonly ImmutableDictionary<string, double[]> Main = new Dictionary<string, double[]>
    {
        ["d"] = [-20, -30, -40, -50, -65, -80, -100, -120, -145, -170, -190, -210, -230, -260, -290, -320, -350, -390, -430, -480, -520],
        ["e"] = [-14, -20, -25, -32, -40, -50, -60, -72, -85, -100, -110, -125, -135, -145, -160, -170, -195, -220, -240, -260, -290],
        ["f"] = [-6, -10, -13, -16, -20, -25, -30, -36, -43, -50, -56, -62, -68, -76, -80, -86, -98, -110, -120, -130, -145],
        ["g"] = [-2, -4, -5, -6, -7, -9, -10, -12, -14, -15, -17, -18, -20, -22, -24, -26, -28, -30, -32, -34, -38],
        ["h"] = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0],
        ["k"] = [0, 1, 1, 1, 2, 2, 2, 3, 3, 4, 4, 4, 5, 0, 0, 0, 0, 0, 0, 0, 0],
        ["m"] = [2, 4, 6, 7, 8, 9, 11, 13, 15, 17, 20, 21, 23, 26, 30, 34, 40, 48, 58, 68, 76],
        ["n"] = [4, 8, 10, 12, 15, 17, 20, 23, 27, 31, 34, 37, 40, 44, 50, 56, 66, 78, 92, 110, 135],
        ["p"] = [6, 12, 15, 18, 22, 26, 32, 37, 43, 50, 56, 62, 68, 78, 88, 100, 120, 140, 170, 195, 240],
    }.ToImmutableDictionary();

    /// <summary>Ends of the finer ranges that the other letters need.</summary>
    private static readonly double[] FineTo =
    [
        3,
        6,
        10,
        14,
        18,
        24,
        30,
        40,
        50,
        65,
        80,
        100,
        120,
        140,
        160,
        180,
        200,
        225,
        250,
        280,
        315,
        355,
        400,
        450,
        500,
        560,
        630,
        710,
        800,
        900,
        1000,
        1120,
        1250,
        1400,
        1600,
        1800,
        2000,
        2240,
        2500,
        2800,
        3150,
    ];

    /// <summary>Letters with finer ranges; a list that ends early is for sizes up to 500 mm, 0 stands where the letter is not
    /// used.</summary>
    private static readonly ImmutableDictionary<string, double[]> Fine = new Dictionary<string, double[]>
    {
        ["a"] =
        [
            -270,
            -270,
            -280,
            -290,
            -290,
            -300,
            -300,
            -310,
            -320,
            -340,
            -360,
            -380,
            -410,
            -460,
            -520,
            -580,
            -660,
            -740,
            -820,
            -920,
            -1050,
            -1200,
            -1350,
            -1500,
            -1650,
        ],
        ["b"] =
        [
            -140,
            -140,
            -150,
            -150,
            -150,
            -160,
            -160,
            -170,
            -180,
            -190,
            -200,
            -220,
            -240,
            -260,
            -280,
            -310,
            -340,
            -380,
            -420,
            -480,
            -540,
            -600,
            -680,
            -760,
            -840,
        ],
        ["c"] =
        [
            -60,
            -70,
            -80,
            -95,
            -95,
            -110,
            -110,
            -120,
            -130,
            -140,
            -150,
            -170,
            -180,
            -200,
            -210,
            -230,
            -240,
            -260,
            -280,
            -300,
            -330,
            -360,
            -400,
            -440,
            -480,
        ],
        ["r"] =
        [
            10,
            15,
            19,
            23,
            23,
            28,
            28,
            34,
            34,
            41,
            43,
            51,
            54,
            63,
            65,
            68,
            77,
            80,
            84,
            94,
            98,
            108,
            114,
            126,
            132,
            150,
            155,
            175,
            185,
            210,
            220,
            250,
            260,
            300,
            330,
            370,
            400,
            440,
            460,
            550,
            580,
        ],
        ["s"] =
        [
            14,
            19,
            23,
            28,
            28,
            35,
            35,
            43,
            43,
            53,
            59,
            71,
            79,
            92,
            100,
            108,
            122,
            130,
            140,
            158,
            170,
            190,
            208,
            232,
            252,
            280,
            310,
            340,
            380,
            430,
            470,
            520,
            580,
            640,
            720,
            820,
            920,
            1000,
            1100,
            1250,
            1400,
        ],
        ["t"] =
        [
            0,
            0,
            0,
            0,
            0,
            0,
            41,
            48,
            54,
            66,
            75,
            91,
            104,
            122,
            134,
            146,
            166,
            180,
            196,
            218,
            240,
            268,
            294,
            330,
            360,
            400,
            450,
            500,
            560,
            620,
            680,
            780,
            840,
            960,
            1050,
            1200,
            1350,
            1500,
            1650,
            1900,
            2100,
        ],
        ["u"] =
        [
            18,
            23,
            28,
            33,
            33,
            41,
            48,
            60,
            70,
            87,
            102,
            124,
            144,
            170,
            190,
            210,
            236,
            258,
            284,
            315,
            350,
            390,
            435,
            490,
            540,
            600,
            660,
            740,
            840,
            940,
            1050,
            1150,
            1300,
            1450,
            1600,
            1850,
            2000,
            2300,
            2500,
            2900,
            3200,
        ],
        ["x"] = [20, 28, 34, 40, 45, 54, 64, 80, 97, 122, 146, 178, 210, 248, 280, 310, 350, 385, 425, 475, 525, 590, 660, 740, 820],
        ["z"] = [26, 35, 42, 50, 60, 73, 88, 112, 136, 172, 210, 258, 310, 365, 415, 465, 520, 575, 640, 710, 790, 900, 1000, 1100, 1250],
    }.ToImmutableDictionary();

    /// <summary>The letters of shafts that are known; holes have the same in capitals.</summary>
    public static IReadOnlyList<string> Letters { get; } = [.. Main.Keys.Concat(Fine.Keys).Append("js").Order(StringComparer.Ordinal)];

    /// <summary>The width of a grade.</summary>
    /// <param name="grade">1 to 18.</param>
    /// <param name="size">In millimetres, from 1 to 3150.</param>
    /// <returns>In millimetres.</returns>
    public static double Width(int grade, double size) => Micrometres(grade, Array.FindIndex(To, t => size <= t)) / 1000;

    /// <summary>How far a size of a fit may be off.</summary>
    /// <param name="letters">Capitals for a hole, small ones for a shaft.</param>
    /// <param name="grade">1 to 18.</param>
    /// <param name="size">In millimetres.</param>
    /// <returns>In millimetres, or why there is none.</returns>
    public static Outcome<Zone> Of(string letters, int grade, double size)
    {
        ArgumentNullException.ThrowIfNull(letters);
        var (letter, hole) = (letters.ToLowerInvariant(), letters.All(char.IsAsciiLetterUpper));
        if (!Letters.Contains(letter) || !(hole || letters.All(char.IsAsciiLetterLower)))
        {
            return Refused($"'{letters}' is no letter of a fit here: {string.Join(" ", Letters)} for shafts, capitals for holes.");
        }

        if (grade is < 1 or > LastGrade)
        {
            return Refused($"Grades go from 1 to {LastGrade}, not {grade}.");
        }

        if (!(size >= Smallest && size <= Largest))
        {
            return Refused($"Fits are for sizes from {Smallest} to {Largest} mm; this one has {size:0.###} mm.");
        }

        var range = Array.FindIndex(To, t => size <= t);
        var width = Micrometres(grade, range);
        if (letter == "js")
        {
            return new Zone(-width / 2000, width / 2000);
        }

        var deviation = Main.TryGetValue(letter, out var main) ? main[range] : FineOf(letter, size);
        if (deviation is not { } shaft)
        {
            return Refused($"'{letters}' is not used for a size of {size:0.###} mm.");
        }

        // k is above the line in the usual grades only.
        if (letter == "k" && !hole && grade is < 4 or > 7)
        {
            shaft = 0;
        }

        return hole ? Hole(letter, grade, size, range, shaft, width) : Shaft(letter, shaft, width);
    }

    /// <summary>Letters up to h lie below the size, the others above it.</summary>
    private static bool IsLoose(string letter) => string.CompareOrdinal(letter, "h") <= 0;

    private static Zone Shaft(string letter, double deviation, double width) =>
        IsLoose(letter) ? new Zone((deviation - width) / 1000, deviation / 1000) : new Zone(deviation / 1000, (deviation + width) / 1000);

    /// <summary>A hole mirrors the shaft of its letter; where it grips, it is corrected by the step between two grades, so that both
    /// systems of fits give the same play (ISO 286-1, 4.3.2.5).</summary>
    private static Outcome<Zone> Hole(string letter, int grade, double size, int range, double shaft, double width)
    {
        if (IsLoose(letter))
        {
            return new Zone(-shaft / 1000, (-shaft + width) / 1000);
        }

        // Above 3 mm K is used up to grade 8 only, and N lies at the line from grade 9 on.
        if (letter == "k" && grade > 8)
        {
            return Refused($"K is used up to grade 8, not {grade}.");
        }

        var upper = -shaft;
        if (letter == "n" && grade > 8)
        {
            upper = size > To[0] && size <= LargestCorrected ? 0 : upper;
        }
        else if (size > To[0] && size <= LargestCorrected && grade > 2 && grade <= (letter is "k" or "m" or "n" ? 8 : 7))
        {
            upper += width - Micrometres(grade - 1, range);
        }

        // The one exception of the table.
        if (letter == "m" && grade == 6 && size > 250 && size <= 315)
        {
            upper = -9;
        }

        return new Zone((upper - width) / 1000, upper / 1000);
    }

    private static double Micrometres(int grade, int range) => grade > 10 ? 10 * Micrometres(grade - 5, range) : Grades[grade - 1][range];

    private static double? FineOf(string letter, double size)
    {
        var range = Array.FindIndex(FineTo, t => size <= t);
        var list = Fine[letter];
        return range < list.Length && list[range] != 0 ? list[range] : null;
    }

    private static Refusal Refused(string why) => new("tolerance.fit", why, "tolerance");
}
