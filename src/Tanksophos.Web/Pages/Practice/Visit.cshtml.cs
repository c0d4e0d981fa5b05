using Microsoft.AspNetCore.Authorization;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Pages;

/// <summary>
/// A case as somebody plays it who came in by a link and has no account. The word in the address is the key to it; nothing of a rig is behind it.
/// </summary>
[AllowAnonymous]
public sealed class PracticeVisitModel(CurrentRequest house, PracticeStore store) : PracticeCaseModel(house, store)
{
    protected override int Player => 0;

    protected override string DebriefPage => "/Practice/VisitDebrief";
}
