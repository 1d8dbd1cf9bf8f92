using Ratiogon.Core.Sketches.Writing;

namespace Ratiogon.Core.Sketches.Rules;

/// <summary>Asks every rule of a sketch what it says of points and curves without numbers.</summary>
internal static class SketchContacts
{
    /// <param name="sketch">Rules of it that say nothing (of an unknown kind, or of what is not there) are passed over.</param>
    public static Contacts Of(Sketch sketch)
    {
        var contacts = new Contacts(() => Joints(sketch));
        foreach (var dimension in sketch.Dimensions)
        {
            if (sketch.FindAll(dimension.Of) is { } of)
            {
                DimensionCatalog.Find(dimension.Kind)?.Note(contacts, sketch, of);
            }
        }

        foreach (var constraint in sketch.Constraints)
        {
            if (sketch.FindAll(constraint.Of) is { } of)
            {
                ConstraintCatalog.Find(constraint.Kind)?.Note(contacts, constraint, of);
            }
        }

        contacts.Close(sketch);
        return contacts;
    }

    /// <summary>Which curves go over into each other because rules say so.</summary>
    public static SmoothJoints Joints(Sketch sketch)
    {
        var joints = new SmoothJoints(sketch);
        foreach (var constraint in sketch.Constraints)
        {
            ConstraintCatalog.Find(constraint.Kind)?.Note(joints, constraint);
        }

        foreach (var dimension in sketch.Dimensions)
        {
            DimensionCatalog.Find(dimension.Kind)?.Note(joints, dimension);
        }

        joints.Close();
        return joints;
    }
}
