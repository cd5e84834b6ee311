using System.Text;

namespace Fennick.Formatting;

/// <summary>Text whose letters and accents are one character each where there is one (Unicode, form C).</summary>
internal static class Composed
{
    /// <summary>The text in this form; as it is, if it holds what is not a character, which has no form.</summary>
    public static string Of(string text)
    {
        try
        {
            return text.Normalize(NormalizationForm.FormC);
        }
        catch (ArgumentException)
        {
            return text;
        }
    }
}
