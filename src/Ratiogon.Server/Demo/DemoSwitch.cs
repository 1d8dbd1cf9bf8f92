namespace Ratiogon.Server.Demo;

/// <summary>Whether the server was started with demo data.</summary>
public sealed record DemoSwitch(bool On);
