using Tanksophos.Web.Hosting;

namespace Tanksophos.Web.Tests;

/// <summary>Measurements from standard input: what cannot be sent is said, and nothing is half done.</summary>
public class SendCommandTests
{
    private static async Task<(int Code, string Out, string Errors)> RunAsync(string to, string? token, string input)
    {
        using var output = new StringWriter();
        using var errors = new StringWriter();
        FileInfo? file = null;
        if (token is not null)
        {
            file = new FileInfo(Path.GetTempFileName());
            await File.WriteAllTextAsync(file.FullName, token + "\n");
        }
        var code = await SendCommand.RunAsync(to, file, new StringReader(input), output, errors, TestContext.Current.CancellationToken);
        file?.Delete();
        return (code, output.ToString(), errors.ToString());
    }

    // A listener that answers like the program does.
    private static async Task<(string Address, Task<List<string>> Bodies)> ServeAsync(params (int Status, string Body)[] answers)
    {
        var port = DeviceWireTests.FreePort();
        var listener = new System.Net.HttpListener();
        listener.Prefixes.Add($"http://127.0.0.1:{port}/");
        listener.Start();
        var bodies = Task.Run(async () =>
        {
            var said = new List<string>();
            foreach (var (status, body) in answers)
            {
                var context = await listener.GetContextAsync();
                using (var reader = new StreamReader(context.Request.InputStream)) said.Add(await reader.ReadToEndAsync());
                context.Response.StatusCode = status;
                await context.Response.OutputStream.WriteAsync(System.Text.Encoding.UTF8.GetBytes(body));
                context.Response.Close();
            }
            listener.Close();
            return said;
        });
        await Task.Yield();
        return ($"http://127.0.0.1:{port}", bodies);
    }

    [Fact]
    public async Task Lines_are_sent_together_and_what_is_refused_is_said_with_its_line()
    {
        var (address, bodies) = await ServeAsync((500, "busy"), (202, """{"accepted":1,"refused":[{"index":1,"path":"at","message":"ahead"}]}"""));
        var (code, said, errors) = await RunAsync(address, "tkd_x",
            "{\"device\":\"a\",\"values\":{}}\n\n{\"device\": half\n{\"device\":\"b\",\"values\":{}}\n");
        code.ShouldBe(1);
        said.ShouldContain("1 taken, 2 refused");
        errors.ShouldContain("line 3:");
        errors.ShouldContain("line 4: at: ahead");
        var sent = await bodies;
        sent.Count.ShouldBe(2, "what was not answered is sent again");
        sent[0].ShouldBe(sent[1]);
    }

    [Fact]
    public async Task A_table_is_sent_as_it_would_be_in_a_file()
    {
        var (address, bodies) = await ServeAsync((202, """{"accepted":2,"refused":[]}"""));
        var (code, said, _) = await RunAsync(address, "tkd_x", "device,at,channel,quantity,value\nstrip,,galley,percent,42\npanel,,black,lit,low mid\n");
        code.ShouldBe(0);
        said.ShouldContain("2 taken");
        (await bodies)[0].ShouldContain("\"percent\":42");
    }

    [Theory]
    [InlineData("nowhere", "tkd_x", "--to")]
    [InlineData("http://localhost:1", null, "--token-file")]
    [InlineData("http://localhost:1", "", "--token-file")]
    public async Task What_is_missing_is_named(string to, string? token, string named)
    {
        var (code, _, errors) = await RunAsync(to, token, "");
        code.ShouldBe(2);
        errors.ShouldStartWith(named);
    }

    [Fact]
    public async Task A_wrong_token_ends_it_at_once()
    {
        var (address, _) = await ServeAsync((401, "no"));
        var (code, _, errors) = await RunAsync(address, "tkd_x", "{\"device\":\"a\",\"values\":{}}\n");
        code.ShouldBe(1);
        errors.ShouldContain("401");
    }
}
