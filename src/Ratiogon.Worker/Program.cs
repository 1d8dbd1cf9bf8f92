using System.IO.Pipes;
using Ratiogon.Worker;
using StreamJsonRpc;

// Started by the pool with the name of the pipe that it listens on; ends when that closes.
if (args is not [var pipeName])
{
    Console.Error.WriteLine("ratiogon worker: started by the server, not by hand");
    return 2;
}

using var pipe = new NamedPipeClientStream(".", pipeName, PipeDirection.InOut, PipeOptions.Asynchronous);
await pipe.ConnectAsync(10_000);
using var service = new WorkerService();
using var rpc = new JsonRpc(WorkerFormat.Over(pipe));
rpc.AddLocalRpcTarget<IWorker>(service, null);
service.Starting = step => _ = rpc.NotifyAsync("starting", step);
service.Share = share => _ = rpc.NotifyAsync("share", share);
rpc.StartListening();
await rpc.Completion;
return 0;
