using Microsoft.AspNetCore.Authorization;
using Tanksophos.Data;
using Tanksophos.Web.Rigs;

namespace Tanksophos.Web.Pages;

/// <summary>The debrief of somebody without an account.</summary>
[AllowAnonymous]
public sealed class PracticeVisitDebriefModel(CurrentRequest house, PracticeStore store) : PracticeDebriefModel(house, store)
{
    protected override int Player => 0;

    protected override string CasePage => "/Practice/Visit";
}
