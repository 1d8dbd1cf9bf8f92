using Ratiogon.Core.Building;
using Ratiogon.Core.Forms;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;

namespace Ratiogon.Core.Tests.Rebuilding;

public class RecentlyUsedTests
{
    private sealed class Thing : IDisposable
    {
        public bool Gone { get; private set; }

        public void Dispose() => Gone = true;
    }

    [Fact]
    public void The_longest_unused_go_first_and_are_freed()
    {
        var kept = new RecentlyUsed<Thing>(2);
        var (a, b, c) = (new Thing(), new Thing(), new Thing());
        kept.Put("a", a);
        kept.Put("b", b);
        kept.Put("c", c);
        kept.Get("a").ShouldBe(a);
        kept.Trim();
        b.Gone.ShouldBeTrue();
        kept.Get("b").ShouldBeNull();
        kept.Get("a").ShouldBe(a);
    }

    [Fact]
    public void As_many_as_are_needed_stay()
    {
        var kept = new RecentlyUsed<Thing>(1);
        var (a, b, c) = (new Thing(), new Thing(), new Thing());
        kept.Put("c", c);
        kept.Put("a", a);
        kept.Put("b", b);
        kept.Trim(2);
        c.Gone.ShouldBeTrue();
        a.Gone.ShouldBeFalse();
        kept.Clear();
        a.Gone.ShouldBeTrue();
    }
}

public class ContentKeyTests
{
    private static readonly ExtrudeStep Step = new("e", 10, "e", "s") { Length = "5 mm" };

    [Fact]
    public void Names_and_numbers_do_not_matter_but_content_and_inputs_do()
    {
        var key = ContentKey.Of(Step, "a");
        ContentKey.Of(Step with { Name = "other", Number = 99 }, "a").ShouldBe(key);
        ContentKey.Of(Step with { Length = "6 mm" }, "a").ShouldNotBe(key);
        ContentKey.Of(Step, "b").ShouldNotBe(key);
        ContentKey.Of(Step, "a", "").ShouldNotBe(key);
    }
}

public class ImportedFileTests
{
    [Fact]
    public void A_file_is_packed_and_unpacked_the_same()
    {
        var file = Enumerable.Range(0, 5000).Select(i => (byte)(i * 7)).ToArray();
        ImportedFile.Unpack(ImportedFile.Pack(file)).Value.ToArray().ShouldBe(file);
    }

    [Theory]
    [InlineData("not base64 !")]
    [InlineData("AAAA")]
    public void Damage_is_noticed(string content) => ImportedFile.Unpack(content).Refusal!.Code.ShouldBe("import.damaged");

    [Fact]
    public void What_unpacks_to_too_much_is_refused() =>
        ImportedFile.Unpack(ImportedFile.Pack(new byte[ImportedFile.MostKept + 1])).Refusal!.Code.ShouldBe("import.too-large");
}
