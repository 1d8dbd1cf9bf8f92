using Ratiogon.Core;

[assembly: BringsKinds]
