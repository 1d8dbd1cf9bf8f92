using Microsoft.AspNetCore.Identity;
using Ratiogon.Core.Demo;
using Ratiogon.Store;

namespace Ratiogon.Server.Demo;

/// <summary>Puts the demo parts into a demo account, once.</summary>
internal static class DemoSeed
{
    public const string Email = "demo@ratiogon.example";

    public static async Task RunAsync(IServiceProvider services)
    {
        var users = services.GetRequiredService<UserManager<Account>>();
        if (await users.FindByNameAsync(Email) is not null)
        {
            return;
        }

        var account = new Account
        {
            Id = Guid.CreateVersion7(),
            UserName = Email,
            Email = Email,
        };

        // Entered by the button on the sign-in page; the password is nobody's.
        var made = await users.CreateAsync(account, $"{Guid.NewGuid():N}-Aa1");
        if (!made.Succeeded)
        {
            throw new InvalidOperationException(made.Errors.First().Description);
        }

        var store = services.GetRequiredService<PartStore>();
        foreach (var (_, build) in DemoParts.All.Reverse())
        {
            await store.CreateAsync(account.Id, build());
        }
    }
}
