using Microsoft.AspNetCore.Mvc.RazorPages;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.BarePage;

/// <summary>The least a page of this application can be: signed in, in the same layout, with one query of its own.</summary>
public sealed class BareModel(CurrentRequest house, RigStore store) : PageModel
{
    public long Version { get; private set; }

    public void OnGet() => Version = store.Log.Version(house.Rig!.Id);
}
