// The smallest web application there is: what start-up is measured against.
var app = WebApplication.Create(args);
app.MapGet("/", () => "ok");
app.Run();
