using System.Globalization;

namespace Ratiogon.Cli;

/// <summary>How far it is, on the stream for errors, so that what is printed stays clean.</summary>
internal sealed class TellingShare(TextWriter error) : IProgress<double>
{
    private readonly Lock gate = new();
    private int last = -1;

    public void Report(double value)
    {
        var tenths = (int)(value * 10);
        lock (gate)
        {
            if (tenths > last)
            {
                last = tenths;
                error.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{tenths * 10} %"));
            }
        }
    }
}
