using System.Reflection;
using System.Security.Claims;

namespace Ratiogon.Server.Accounts;

/// <summary>The account that is signed in; bound from the request.</summary>
public readonly record struct Who(Guid Id)
{
    public static ValueTask<Who> BindAsync(HttpContext context, ParameterInfo _)
    {
        ArgumentNullException.ThrowIfNull(context);
        return ValueTask.FromResult(Of(context.User));
    }

    public static Who Of(ClaimsPrincipal? user) =>
        Guid.TryParse(user?.FindFirstValue(ClaimTypes.NameIdentifier), out var id)
            ? new Who(id)
            : throw new InvalidOperationException("nobody is signed in");
}
