namespace Fennick.Pictures;

/// <summary>A figure that draws itself once its place in a report is known, such as a plot of another package.</summary>
public interface IDrawnFigure
{
    /// <summary>Draws the figure.</summary>
    /// <param name="frame">How large it is, and how the house looks.</param>
    Picture Draw(FigureFrame frame);
}
