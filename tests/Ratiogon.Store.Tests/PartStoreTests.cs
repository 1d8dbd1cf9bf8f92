using Microsoft.EntityFrameworkCore;
using Ratiogon.Core.Demo;
using Ratiogon.Core.Gauging;
using Ratiogon.Core.Kernel;
using Ratiogon.Core.Parts;
using Ratiogon.Core.Parts.Commands;
using Ratiogon.Core.Parts.Steps;
using Ratiogon.TestHost;

namespace Ratiogon.Store.Tests;

/// <summary>The store on a real database.</summary>
public sealed class PartStoreTests : IAsyncLifetime
{
    private readonly Guid owner = Guid.CreateVersion7();
    private Databases factory = null!;
    private PartStore store = null!;
    private ModelStore models = null!;

    public async ValueTask InitializeAsync()
    {
        factory = new Databases(await ServerProcess.NewDatabaseAsync());
        await using var db = factory.CreateDbContext();
        await db.Database.MigrateAsync();
        db.Users.Add(
            new Account
            {
                Id = owner,
                UserName = "o",
                Email = "o@ratiogon.example",
            }
        );
        await db.SaveChangesAsync();
        (store, models) = (new PartStore(factory), new ModelStore(factory));
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private async Task<StoredPart> DoAsync(StoredPart stored, PartCommand command) =>
        (await store.SaveAsync(stored, command.Apply(stored.Part).Value, owner, EditKind.Do, command.Words, null))!;

    private async Task<StoredPart> NewAsync(Part part) => (await store.LoadAsync(await store.CreateAsync(owner, part), owner))!;

    [Fact]
    public async Task A_part_comes_back_as_it_was_to_the_last_bit()
    {
        var stored = await NewAsync(MotorPlate.Build());
        stored.Part.ShouldBe(MotorPlate.Build());
        stored.Revision.ShouldBe(1);
    }

    [Fact]
    public async Task Only_the_owner_finds_it()
    {
        var stored = await NewAsync(new Part());
        (await store.LoadAsync(stored.Id, Guid.CreateVersion7())).ShouldBeNull();
        (await store.DeleteAsync(stored.Id, Guid.CreateVersion7())).ShouldBeFalse();
        (await store.ListAsync(Guid.CreateVersion7())).ShouldBeEmpty();
        (await store.ListAsync(owner)).Single().Id.ShouldBe(stored.Id);
    }

    [Fact]
    public async Task An_edit_touches_only_the_rows_it_changed()
    {
        var stored = await DoAsync(await NewAsync(MotorPlate.Build()), new SetSize("corners", "h1.d", "5"));
        var change = await store.ChangeAsync(stored.Id, stored.Revision);
        change.Before.ShouldBeNull();
        change.StepsAfter.Single().Id.ShouldBe("corners");
        change.Reversed().Apply(stored.Part).ShouldBe(MotorPlate.Build());
    }

    [Fact]
    public async Task Of_two_edits_on_one_revision_the_second_is_refused()
    {
        var stored = await NewAsync(MotorPlate.Build());
        (await store.SaveAsync(stored, stored.Part with { Name = "One" }, owner, EditKind.Do, "one", null)).ShouldNotBeNull();
        (await store.SaveAsync(stored, stored.Part with { Name = "Two" }, owner, EditKind.Do, "two", null)).ShouldBeNull();
        (await store.LoadAsync(stored.Id, owner))!.Part.Name.ShouldBe("One");
    }

    [Fact]
    public async Task Undo_and_redo_are_read_back_from_the_log()
    {
        var a = await DoAsync(await NewAsync(MotorPlate.Build()), new RenamePart("A"));
        var b = await DoAsync(a, new RenamePart("B"));
        var undone = (
            await store.SaveAsync(
                b,
                (await store.ChangeAsync(b.Id, b.Undo.Peek().Revision)).Reversed().Apply(b.Part),
                owner,
                EditKind.Undo,
                "B",
                b.Revision
            )
        )!;
        undone.Part.Name.ShouldBe("A");
        var read = (await store.LoadAsync(b.Id, owner))!;
        read.Undo.Select(u => u.Words).ShouldBe(undone.Undo.Select(u => u.Words));
        read.Redo.Single().Words.ShouldBe("rename to B");
        var other = await DoAsync(read, new RenamePart("C"));
        other.Redo.IsEmpty.ShouldBeTrue("a new edit ends what could be redone");
        (await store.LoadAsync(b.Id, owner))!.Redo.IsEmpty.ShouldBeTrue();
    }

    [Fact]
    public async Task Steps_are_added_and_removed_with_their_rows()
    {
        var stored = await DoAsync(await NewAsync(MotorPlate.Build()), new RemoveStep("wall"));
        (await store.LoadAsync(stored.Id, owner))!.Part.Find("wall").ShouldBeNull();
        stored = await DoAsync(stored, new AddStep(new ReadingStep("again", 0, "Again", "area", [])));
        (await store.LoadAsync(stored.Id, owner))!.Part.ShouldBe(stored.Part);
        (await store.ListAsync(owner)).Single().Steps.ShouldBe(12);
    }

    [Fact]
    public async Task Deleting_takes_everything_along()
    {
        var stored = await DoAsync(await NewAsync(MotorPlate.Build()), new RenamePart("Gone"));
        await models.KeepAsync(stored.Id, stored.Revision, "k", [7], [1, 2, 3], [4, 5]);
        (await store.PictureAsync(stored.Id, owner, dark: false)).ShouldBe([1, 2, 3]);
        (await store.PictureAsync(stored.Id, owner, dark: true)).ShouldBe([4, 5]);
        (await store.PictureAsync(stored.Id, Guid.NewGuid(), dark: true)).ShouldBeNull("somebody else's");
        (await store.ThrowAwayAsync(stored.Id, owner)).ShouldBeFalse("it was not deleted yet");
        (await store.DeleteAsync(stored.Id, owner)).ShouldBeTrue();
        (await store.ThrowAwayAsync(stored.Id, Guid.NewGuid())).ShouldBeFalse("somebody else's");
        (await store.ThrowAwayAsync(stored.Id, owner)).ShouldBeTrue();
        await using var db = factory.CreateDbContext();
        (await db.Models.CountAsync(s => s.PartId == stored.Id)).ShouldBe(0);
        (await db.Steps.CountAsync(s => s.PartId == stored.Id)).ShouldBe(0);
        (await db.Edits.CountAsync(s => s.PartId == stored.Id)).ShouldBe(0);
    }

    [Fact]
    public async Task What_was_deleted_can_be_had_back_with_its_log_for_a_while()
    {
        var stored = await DoAsync(await NewAsync(MotorPlate.Build()), new RenamePart("Regretted"));
        (await store.DeleteAsync(stored.Id, owner)).ShouldBeTrue();
        (await store.DeleteAsync(stored.Id, owner)).ShouldBeFalse("it is gone already");
        (await store.LoadAsync(stored.Id, owner)).ShouldBeNull();
        (await store.LoadAsync(stored.Id)).ShouldBeNull("the server does nothing by itself with it");
        (await store.ListAsync(owner)).ShouldBeEmpty();
        (await store.ListAsync(owner, deleted: true)).Single().Deleted.ShouldNotBeNull();
        (await store.RestoreAsync(stored.Id, Guid.NewGuid())).ShouldBeFalse("somebody else's");
        (await store.ThrowAwayAsync(DateTimeOffset.UtcNow - PartStore.Restorable)).ShouldBe(0);
        (await store.RestoreAsync(stored.Id, owner)).ShouldBeTrue();
        (await store.RestoreAsync(stored.Id, owner)).ShouldBeFalse("it is there");
        var back = (await store.LoadAsync(stored.Id, owner))!;
        back.Part.ShouldBe(stored.Part);
        back.Undo.Select(u => u.Words).ShouldBe(stored.Undo.Select(u => u.Words));
        (await store.DeleteAsync(stored.Id, owner)).ShouldBeTrue();
        (await store.ThrowAwayAsync(DateTimeOffset.UtcNow.AddMinutes(1))).ShouldBe(1);
        (await store.ListAsync(owner, deleted: true)).ShouldBeEmpty();
    }

    /// <summary>Edits, undone and done again, in any order: every state is had back as it was.</summary>
    [Fact]
    public async Task Every_state_is_found_again()
    {
        var stored = await NewAsync(MotorPlate.Build());
        var states = new Dictionary<long, Part> { [stored.Revision] = stored.Part };
        PartCommand[] commands =
        [
            new RenamePart("B"),
            new SetParameter("plate_w", "91 mm"),
            new RemoveStep("wall"),
            new AddStep(new ReadingStep("again", 0, "Again", "area", [])),
            new SuppressStep("again", true),
            new SetUnits(Core.Quantities.LengthUnit.Inch),
        ];
        foreach (var command in commands)
        {
            stored = await DoAsync(stored, command);
            states[stored.Revision] = stored.Part;
        }

        var change = (await store.ChangeAsync(stored.Id, stored.Revision)).Reversed();
        stored = (await store.SaveAsync(stored, change.Apply(stored.Part), owner, EditKind.Undo, "inch", stored.Revision))!;
        states[stored.Revision] = stored.Part;
        foreach (var (revision, part) in states)
        {
            (await store.AtAsync(stored.Id, owner, revision)).ShouldBe(part, $"state {revision}");
        }

        (await store.AtAsync(stored.Id, owner, 0)).ShouldBeNull();
        (await store.AtAsync(stored.Id, owner, stored.Revision + 1)).ShouldBeNull();
        (await store.AtAsync(stored.Id, Guid.NewGuid(), 2)).ShouldBeNull("somebody else's");
        (await store.NameAsync(stored.Id, owner, 3, " wide ")).ShouldBeTrue();
        (await store.NameAsync(stored.Id, Guid.NewGuid(), 3, "theirs")).ShouldBeFalse();
        (await store.NameAsync(stored.Id, owner, 1, "the beginning has no edit")).ShouldBeFalse();
        var history = (await store.HistoryAsync(stored.Id, owner))!;
        history.Select(h => h.Revision).ShouldBe(Enumerable.Range(1, (int)stored.Revision).Reverse().Select(r => (long)r));
        (history.Single(h => h.Revision == 3).Name, history[0].Kind, history[^1].Words).ShouldBe(("wide", EditKind.Undo, "begun"));
        (await store.HistoryAsync(stored.Id, Guid.NewGuid())).ShouldBeNull();
    }

    [Fact]
    public async Task A_copy_has_the_steps_the_picture_and_a_name_of_its_own()
    {
        var stored = await DoAsync(await NewAsync(MotorPlate.Build()), new RenamePart("Plate"));
        await models.KeepAsync(stored.Id, stored.Revision, "k", [7], [1], [2], failing: 3);
        (await store.TagAsync(stored.Id, owner, [" motors ", "Plates", "motors", ""])).Value.ShouldBeTrue();
        var copy = (await store.CopyAsync(stored.Id, owner))!.Value;
        var again = (await store.CopyAsync(stored.Id, owner))!.Value;
        var read = (await store.LoadAsync(copy, owner))!;
        read.Part.ShouldBe(stored.Part with { Name = "Plate, copy" });
        read.Undo.IsEmpty.ShouldBeTrue();
        (await store.LoadAsync(again, owner))!.Part.Name.ShouldBe("Plate, copy 2");
        (await store.PictureAsync(copy, owner, dark: true)).ShouldBe([2]);
        (await models.FindAsync(copy, "k")).ShouldBe([7]);
        var listed = (await store.ListAsync(owner)).Single(p => p.Id == copy);
        (listed.Name, listed.Failing).ShouldBe(("Plate, copy", 3));
        listed.Tags.ShouldBe(["motors", "Plates"]);
        (await store.CopyAsync(stored.Id, Guid.NewGuid())).ShouldBeNull("somebody else's");
        (await DoAsync(read, new RenamePart("Own"))).Part.Name.ShouldBe("Own");
        (await store.LoadAsync(stored.Id, owner))!.Part.Name.ShouldBe("Plate");
    }

    [Theory]
    [InlineData("a,b")]
    [InlineData("line\nbreak")]
    [InlineData("a tag that is longer than anybody needs a tag to be")]
    public async Task Tags_that_cannot_be_are_refused(string tag)
    {
        var stored = await NewAsync(MotorPlate.Build());
        (await store.TagAsync(stored.Id, owner, [tag])).Refusal!.Code.ShouldBe("part.tags");
        (await store.TagAsync(stored.Id, owner, Enumerable.Range(0, 13).Select(i => $"t{i}"))).Refusal.ShouldNotBeNull();
        (await store.TagAsync(stored.Id, Guid.NewGuid(), ["t"])).Value.ShouldBeFalse("somebody else's");
        (await store.ListAsync(owner)).Single().Tags.ShouldBeEmpty();
    }

    [Fact]
    public async Task What_parts_are_built_into_is_kept_by_content_and_within_bounds()
    {
        var stored = await NewAsync(MotorPlate.Build());
        (await models.UndrawnAsync()).ShouldContain(stored.Id);
        (await models.FindAsync(stored.Id, "a")).ShouldBeNull();
        foreach (var key in new[] { "a", "b", "c" })
        {
            await models.KeepAsync(stored.Id, stored.Revision, key, [(byte)key[0]], null, null);
        }

        (await models.UndrawnAsync()).ShouldNotContain(stored.Id);
        (await models.IsKeptAsync(stored.Id, "c", stored.Revision)).ShouldBeTrue();
        (await models.IsKeptAsync(stored.Id, "c", stored.Revision + 1)).ShouldBeFalse();

        // Looking at the oldest makes the second the one that goes.
        (await models.FindAsync(stored.Id, "a")).ShouldBe([(byte)'a']);
        await models.KeepAsync(stored.Id, stored.Revision, "d", [4], null, null);
        (await models.FindAsync(stored.Id, "b")).ShouldBeNull();
        (await models.FindAsync(stored.Id, "a")).ShouldNotBeNull();
        (await models.FindAsync(Guid.NewGuid(), "a")).ShouldBeNull("of another part");

        // What was changed meanwhile is not drawn as it was, and what is too large is drawn but not kept.
        await DoAsync(stored, new RenamePart("Other"));
        await models.KeepAsync(stored.Id, stored.Revision, "late", [5], [1], [1]);
        (await models.FindAsync(stored.Id, "late")).ShouldBeNull();
        (await store.PictureAsync(stored.Id, owner, dark: false)).ShouldBeNull();
        await models.KeepAsync(stored.Id, stored.Revision + 1, "large", new byte[ModelStore.LargestModel + 1], [1], [1]);
        (await models.FindAsync(stored.Id, "large")).ShouldBeNull();
        (await store.PictureAsync(stored.Id, owner, dark: false)).ShouldBe([1]);
    }

    [Theory]
    [InlineData("""{"kind":"extrude","id":"plate","number":20,"name":"Plate","sketch":"outline","extent":7}""")]
    [InlineData("""{"kind":"nothing-known","id":"plate","number":20,"name":"Plate"}""")]
    [InlineData("""{"id":"plate","number":20,"name":"Plate"}""")]
    [InlineData("""{"kind":"extrude","id":"other","number":20,"name":"Plate","sketch":"outline"}""")]
    [InlineData("[1, 2]")]
    public async Task A_step_that_cannot_be_read_fails_by_itself_and_the_part_opens(string kept)
    {
        var stored = await NewAsync(MotorPlate.Build());
        await using (var db = factory.CreateDbContext())
        {
            await db
                .Steps.Where(s => s.PartId == stored.Id && s.StepId == "plate")
                .ExecuteUpdateAsync(u => u.SetProperty(s => s.Body, kept));
        }

        var read = (await store.LoadAsync(stored.Id, owner)).ShouldNotBeNull();
        var broken = read.Part.Find("plate").ShouldBeOfType<UnreadStep>();
        (broken.Number, read.Part.Steps.Length).ShouldBe((20, stored.Part.Steps.Length));
        broken.Why.ShouldStartWith("What is kept of this step cannot be read: ");

        // Another step is changed and the row of this one stays as it was; taken away it is gone, and undo finds the others.
        read = await DoAsync(read, new RenamePart("Still here"));
        await using (var db = factory.CreateDbContext())
        {
            var row = await db.Steps.SingleAsync(s => s.PartId == stored.Id && s.StepId == "plate");
            System
                .Text.Json.Nodes.JsonNode.DeepEquals(
                    System.Text.Json.Nodes.JsonNode.Parse(row.Body),
                    System.Text.Json.Nodes.JsonNode.Parse(kept)
                )
                .ShouldBeTrue();
        }

        read = await DoAsync(read, new RemoveStep("plate", Anyway: true));
        (await store.LoadAsync(stored.Id, owner))!.Part.Find("plate").ShouldBeNull();
    }

    [Theory]
    [InlineData("units", "7", "units")]
    [InlineData("parameters", """[{"name":"w","value":"3 mm"},7,{"name":"h","value":["x"]},{"name":"d","value":"9 mm"}]""", "parameters")]
    [InlineData("material", "\"lead\"", "material")]
    [InlineData("nothingKnown", "1", "nothingKnown")]
    [InlineData("stopLine", "{}", "stopLine")]
    public async Task A_head_that_cannot_be_read_opens_with_what_can_be_and_is_kept(string field, string value, string told)
    {
        var begun = await DoAsync(await NewAsync(MotorPlate.Build()), new SetParameter("play", "0.2 mm"));
        string spoiled;
        await using (var db = factory.CreateDbContext())
        {
            var head = System.Text.Json.Nodes.JsonNode.Parse((await db.Parts.SingleAsync(p => p.Id == begun.Id)).Header)!.AsObject();
            head[field] = System.Text.Json.Nodes.JsonNode.Parse(value);
            spoiled = head.ToJsonString();
            await db.Parts.Where(p => p.Id == begun.Id).ExecuteUpdateAsync(u => u.SetProperty(p => p.Header, spoiled));
        }

        var read = (await store.LoadAsync(begun.Id, owner)).ShouldNotBeNull();
        var broken = read.Part.Steps[0].ShouldBeOfType<UnreadStep>();
        broken.Why.ShouldContain($"({told}");
        read.Part.Steps.Skip(1).ShouldBe(begun.Part.Steps);
        read.Part.Parameters.Select(p => p.Name).ShouldBe(field == "parameters" ? ["w", "d"] : begun.Part.Parameters.Select(p => p.Name));
        read.Part.Name.ShouldBe(begun.Part.Name);
        (field == "units" || read.Part.Units == begun.Part.Units).ShouldBeTrue();

        // The next edit keeps a head that can be read, and what could not be stays with the part until somebody takes it away.
        read = await DoAsync(read, new RenamePart("Mended"));
        var again = (await store.LoadAsync(begun.Id, owner))!;
        again.Part.Name.ShouldBe("Mended");
        again.Part.ShouldBe(read.Part);
        System
            .Text.Json.Nodes.JsonNode.DeepEquals(
                System.Text.Json.Nodes.JsonNode.Parse(again.Part.Steps[0].ShouldBeOfType<UnreadStep>().Content),
                System.Text.Json.Nodes.JsonNode.Parse(spoiled)
            )
            .ShouldBeTrue();
        await DoAsync(again, new RemoveStep(broken.Id, Anyway: true));
        (await store.LoadAsync(begun.Id, owner))!.Part.Steps.ShouldBe(begun.Part.Steps);
    }

    [Fact]
    public async Task The_step_that_tells_of_a_head_can_be_taken_away_at_once()
    {
        var begun = await NewAsync(MotorPlate.Build());
        await using (var db = factory.CreateDbContext())
        {
            await db.Parts.Where(p => p.Id == begun.Id).ExecuteUpdateAsync(u => u.SetProperty(p => p.Header, "[]"));
        }

        var read = (await store.LoadAsync(begun.Id, owner))!;
        read.Part.Steps[0].ShouldBeOfType<UnreadStep>().Why.ShouldContain("(all of it)");
        read.Part.Name.ShouldBe(begun.Part.Name);
        await DoAsync(read, new RemoveStep(read.Part.Steps[0].Id, Anyway: true));
        (await store.LoadAsync(begun.Id, owner))!.Part.Steps.ShouldBe(begun.Part.Steps);
    }

    /// <summary>The log keeps what changed, not the file that a body was read from again and again.</summary>
    [Fact]
    public async Task Renames_of_an_imported_body_leave_a_small_log_and_come_back_whole()
    {
        var content = ImportedFile.Pack(
            new byte[200_000]
                .Select((_, i) => (byte)(i * 31 % 251 ^ (i >> 7)))
                .ToArray()
        );
        var begun = await DoAsync(await NewAsync(new Part()), new AddStep(new ImportStep("body", 0, "Body 0", "body.step", content)));
        var read = begun;
        for (var i = 1; i <= 20; i++)
        {
            read = await DoAsync(read, new RenameStep("body", $"Body {i}"));
        }

        await using (var db = factory.CreateDbContext())
        {
            var log = await db.Edits.Where(e => e.PartId == begun.Id && e.Revision > begun.Revision).Select(e => e.Change).ToListAsync();
            log.Count.ShouldBe(20);
            log.Sum(l => l.Length).ShouldBeLessThan(20_000);
        }

        ((ImportStep)(await store.LoadAsync(begun.Id, owner))!.Part.Steps[0]).Content.ShouldBe(content);
        foreach (var revision in new[] { begun.Revision, begun.Revision + 7 })
        {
            var then = (ImportStep)(await store.AtAsync(begun.Id, owner, revision))!.Steps[0];
            (then.Name, then.Content).ShouldBe(($"Body {revision - begun.Revision}", content));
        }

        // Taken away, the file stands in the log once, and comes back from there.
        read = await DoAsync(read, new RemoveStep("body"));
        ((ImportStep)(await store.AtAsync(begun.Id, owner, read.Revision - 1))!.Steps[0]).Content.ShouldBe(content);
    }
}
