using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Metadata;
using Tanksophos.Data;

namespace Tanksophos.Web.Tests.Data;

/// <summary>The model that was compiled ahead is the one the code describes: after a change, <c>tools/compile-model.sh</c> makes it anew.</summary>
public class CompiledModelTests
{
    private static IEnumerable<string> Lines(IModel model) => model.GetEntityTypes().OrderBy(e => e.Name, StringComparer.Ordinal)
        .SelectMany(e => e.GetProperties()
        .Select(p => $"{e.GetTableName()}.{p.GetColumnName()} {p.ClrType} {p.IsNullable} {p.IsPrimaryKey()} {p.IsForeignKey()}")
        .Concat(e.GetIndexes().Select(i => $"{e.GetTableName()} index {string.Join(',', i.Properties.Select(p => p.Name))} {i.IsUnique}"))
        .Concat(e.GetForeignKeys().Select(f => $"{e.GetTableName()} to {f.PrincipalEntityType.GetTableName()} {f.DeleteBehavior}"))
        .Order(StringComparer.Ordinal));

    [Fact]
    public void The_compiled_model_is_the_one_described()
    {
        using var context = new TanksophosContext(TanksophosContext.OptionsFor("none.db"));
        context.Model.GetType().Name.ShouldBe("TanksophosContextModel");
        Lines(context.Model).Count().ShouldBeGreaterThan(80);
        Lines(context.Model).ShouldBe(Lines(context.GetService<IDesignTimeModel>().Model));
    }
}
