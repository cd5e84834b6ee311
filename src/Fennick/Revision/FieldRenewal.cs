using Fennick.Records;

namespace Fennick.Revision;

/// <summary>Makes fields show what is true of the document as it is now: captions count in its order, references say what they lead to, lists of contents have the entries of its headings.</summary>
internal sealed class FieldRenewal(RefreshPass pass)
{
    /// <summary>Whether page numbers may be others than those that stand there.</summary>
    public bool PagesAreUnsure { get; private set; }

    public void Renew()
    {
        TakeOver();
        var numbers = new FieldNumbers(pass.Theirs);
        numbers.Count();
        numbers.Refer();
        RenewContents();
    }

    /// <summary>What the fresh document shows holds for what stands in both.</summary>
    private void TakeOver()
    {
        foreach (var block in pass.Now.Blocks.OfType<RecordedParagraph>())
        {
            if (pass.Succession.Earlier(block) is not { } before || pass.Places.Of(before) is not ReadParagraph theirs || pass.FreshPlaces.Of(block) is not ReadParagraph fresh) continue;
            var (fields, next) = (FieldNumbers.FieldsOf(theirs), FieldNumbers.FieldsOf(fresh));
            if (fields.Length != next.Length) continue;
            foreach (var (field, now) in fields.Zip(next))
                if (field.Text != now.Text && FieldNumbers.Word(field) == FieldNumbers.Word(now)) FieldNumbers.Show(field, now.Text);
            theirs.Renew();
        }
    }

    /// <summary>Brings the entries of lists of contents up to date; those of headings and captions that people have added are made like those beside them.</summary>
    private void RenewContents()
    {
        var contents = new ContentsRenewal(pass, Surroundings.LevelsOf(pass.Theirs));
        contents.Renew();
        PagesAreUnsure = contents.PagesAreUnsure;
    }
}
