namespace Ratiogon.Exchange;

/// <summary>How a file is written.</summary>
public sealed record ExportOptions
{
    /// <summary>The largest distance between faces and triangles, in millimetres.</summary>
    public double Deviation { get; init; } = 0.05;

    /// <summary>STL as text rather than binary.</summary>
    public bool Text { get; init; }

    /// <summary>STEP by AP242 rather than AP214.</summary>
    public bool Ap242 { get; init; }

    /// <summary>Of a drawing: the sketch or planar face.</summary>
    public string? Of { get; init; }
}

/// <summary>What a mesh of this fineness comes to.</summary>
/// <param name="Triangles">How many.</param>
/// <param name="Deviation">The largest distance found between them and the faces, in millimetres.</param>
/// <param name="Bytes">Size of the file as it would be written.</param>
public sealed record ExportPreview(int Triangles, double Deviation, long Bytes);
