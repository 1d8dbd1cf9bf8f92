namespace Ratiogon.Core.Numerics;

/// <summary>Strongly connected components (Tarjan, 1972), without recursion. They come out with every component
/// after the ones it points to, which is the order in which blocks can be solved.</summary>
internal static class StronglyConnected
{
    public static List<List<int>> Of(int nodeCount, IEnumerable<int> nodes, Func<int, IEnumerable<int>> next)
    {
        var number = new int[nodeCount];
        var low = new int[nodeCount];
        var onStack = new bool[nodeCount];
        var stack = new Stack<int>();
        var result = new List<List<int>>();
        var counter = 0;
        foreach (var start in nodes)
        {
            if (number[start] != 0)
            {
                continue;
            }

            var work = new Stack<(int Node, IEnumerator<int> Onward)>();
            Enter(start);
            while (work.Count > 0)
            {
                var (node, onward) = work.Peek();
                if (onward.MoveNext())
                {
                    if (number[onward.Current] == 0)
                    {
                        Enter(onward.Current);
                    }
                    else if (onStack[onward.Current])
                    {
                        low[node] = Math.Min(low[node], number[onward.Current]);
                    }

                    continue;
                }

                work.Pop();
                if (work.TryPeek(out var above))
                {
                    low[above.Node] = Math.Min(low[above.Node], low[node]);
                }

                if (low[node] == number[node])
                {
                    result.Add(PopComponent(node));
                }
            }

            void Enter(int node)
            {
                number[node] = low[node] = ++counter;
                stack.Push(node);
                onStack[node] = true;
                work.Push((node, next(node).GetEnumerator()));
            }
        }

        return result;

        List<int> PopComponent(int root)
        {
            var component = new List<int>();
            int node;
            do
            {
                node = stack.Pop();
                onStack[node] = false;
                component.Add(node);
            } while (node != root);
            return component;
        }
    }
}
