using System.Globalization;
using Fennick.Styles;

namespace Fennick.Outputs;

/// <summary>The style sheet of a page: the house's faces and colours, on screen, in the dark and in print.</summary>
internal static class PageLook
{
    /// <summary>The style sheet of a report's pages in a view of it, which has surroundings of its own: pages are white as paper is.</summary>
    public static string OfPages(IStyleBook house) => string.Join('\n', Of(house).Split('\n').Where(l => !l.StartsWith("@media", StringComparison.Ordinal)))
        .Replace(":root{", ":host{", StringComparison.Ordinal).Replace("\nbody{margin:0;background:var(--around);", "\n:host{", StringComparison.Ordinal);

    /// <summary>The style sheet in a house.</summary>
    public static string Of(IStyleBook house)
    {
        var design = house.Design;
        string Colour(ThemeColour colour) => "#" + design.Colours[colour];
        string Points(StyleRole role) => house.Style(role).Points.ToString("0.##", CultureInfo.InvariantCulture) + "pt";
        string Ink(StyleRole role)
        {
            // What stands on a fill in the document stands on paper here.
            var hex = house.Style(role).Hex ?? design.Colours[house.Style(role).OnFill is null ? house.Style(role).Colour : ThemeColour.StrongText];
            return "#" + (Styles.Colour.Parse(hex) is { } ink && Styles.Colour.Contrast(ink, Styles.Colour.White) < 3 ? design.Colours[ThemeColour.StrongText] : hex);
        }

        string Face(FontSlot slot) => FontAlternatives.ListOf(design.Family(slot));
        return $$$"""
            :root{--text:{{{Colour(ThemeColour.Text)}}};--paper:{{{Colour(ThemeColour.Background)}}};--strong:{{{Ink(StyleRole.Heading1)}}};--accent:{{{Colour(ThemeColour.Accent1)}}};--second:{{{Colour(ThemeColour.Accent2)}}};--tint:{{{Colour(ThemeColour.Tint)}}};--link:{{{Colour(ThemeColour.Link)}}};--rule:#8886;--around:#eceef0}
            @media(prefers-color-scheme:dark){:root{--text:#e4e4e7;--paper:#1c1e22;--strong:#f4f4f5;--accent:color-mix(in srgb,{{{Colour(ThemeColour.Accent1)}}} 45%,#fff);--second:color-mix(in srgb,{{{Colour(ThemeColour.Accent2)}}} 55%,#fff);--tint:#282b31;--link:#9cc4ff;--around:#121316}}
            *{box-sizing:border-box}
            body{margin:0;background:var(--around);color:var(--text);font:{{{Points(StyleRole.Body)}}}/1.5 {{{Face(FontSlot.Body)}}};overflow-wrap:break-word}
            .sheet{max-width:50rem;margin:1.5rem auto;padding:3rem clamp(1rem,6vw,4rem);background:var(--paper);box-shadow:0 1px 4px #0003}
            h1,h2,h3,h4,h5,h6{font-family:{{{Face(FontSlot.Heading)}}};color:var(--strong);line-height:1.2;margin:2.2em 0 .6em}
            h1{font-size:{{{Points(StyleRole.Title)}}};margin:0 0 .3em}h2{font-size:{{{Points(StyleRole.Heading1)}}}}h3{font-size:{{{Points(StyleRole.Heading2)}}}}h4{font-size:{{{Points(StyleRole.Heading3)}}}}h5,h6{font-size:{{{Points(StyleRole.Heading4)}}}}
            header{border-bottom:3px solid var(--accent);margin-bottom:2rem;padding-bottom:1rem}header p{margin:.2em 0}.subtitle{font-size:1.25em}
            p{margin:0 0 .8em}a{color:var(--link)}code,pre{font-family:{{{Face(FontSlot.Code)}}};font-size:.9em}
            pre{background:var(--tint);padding:.7em 1em;overflow-x:auto;margin:0 0 1em}
            blockquote{margin:0 0 1em;padding-left:1.2em;border-left:3px solid var(--accent);font-style:italic}
            hr{border:0;border-top:1px solid var(--rule);width:20%;margin:1.6em auto}
            ul,ol{margin:0 0 .8em;padding-left:1.6em}dt{font-weight:bold}dd{margin:0 0 .6em 1.6em}
            nav ol{list-style:none;padding:0}nav li{margin:.15em 0}.of-2{padding-left:1.2em}.of-3,.of-4,.of-5,.of-6{padding-left:2.4em}nav h2{margin-top:1.2em}
            figure{margin:1.4em 0}.scroll{overflow-x:auto}
            table{border-collapse:collapse;font-family:{{{Face(FontSlot.Table)}}};font-size:{{{Points(StyleRole.TableText)}}};line-height:1.3}
            figcaption,caption,.caption{font-family:{{{Face(FontSlot.Heading)}}};font-size:{{{Points(StyleRole.Caption)}}};font-weight:bold;color:{{{Ink(StyleRole.Caption)}}};text-align:left;padding:.4em 0}
            @media(prefers-color-scheme:dark){figcaption,caption,.caption{color:var(--accent)}}
            th,td{padding:.25em .7em;text-align:left;vertical-align:top}th{vertical-align:bottom}.number{text-align:right;font-variant-numeric:tabular-nums}.middle{text-align:center}
            thead tr:first-child>*{border-top:2px solid var(--accent)}thead tr:last-child>*{border-bottom:1px solid var(--accent)}tbody tr:last-child>*{border-bottom:2px solid var(--accent)}tbody tr>*{border-bottom:1px solid var(--rule)}tbody th{font-weight:normal;min-width:9em}tbody th.group{font-weight:bold}
            .in-1{padding-left:1.8em}.in-2{padding-left:2.9em}
            .note{font-size:.85em;margin:.3em 0 1em}
            .chart{background:#fff;padding:4px}.chart svg{display:block;max-width:100%;height:auto}img{max-width:100%;height:auto}
            details{font-size:.85em;margin:.3em 0}summary{cursor:pointer;color:var(--link)}
            .box{background:var(--tint);border-left:5px solid var(--second);padding:.8em 1.2em .2em;margin:1.2em 0}.box.quiet{background:none;border-left:3px solid var(--accent)}.box-title{font-family:{{{Face(FontSlot.Heading)}}};font-weight:bold;font-size:1.1em;color:var(--strong)}
            .tiles{display:grid;grid-template-columns:repeat(auto-fit,minmax(10rem,1fr));gap:.8rem;margin:1.2em 0}.tiles>div{background:var(--tint);border-top:3px solid var(--accent);padding:.6em .9em}.tiles p{margin:0}
            .key-label,.key-note{font-size:.85em}.key{font-family:{{{Face(FontSlot.Heading)}}};font-size:{{{Points(StyleRole.KeyFigure)}}};font-weight:bold;color:var(--accent)}.key-change{font-weight:bold}
            .beside{display:grid;gap:1.5rem;margin:0 0 1em}
            .pull{border:solid var(--second);border-width:1px 0;padding:.6em 1.2em;margin:1.4em 0;font:1.35em/1.35 {{{Face(FontSlot.Heading)}}};color:var(--accent)}.margin{float:right;width:9rem;margin:0 0 .6em 1.2em;font-size:.8em;color:var(--accent)}
            .equation{display:flex;align-items:center;gap:1em;margin:1em 0}.equation math{flex:1;overflow-x:auto}.boxed{border:1px solid}
            .notes{border-top:1px solid var(--rule);margin-top:3rem;font-size:.88em}.source{padding-left:2em;text-indent:-2em}
            sup{line-height:0}
            @media(max-width:40rem){.sheet{margin:0;box-shadow:none;padding:1.5rem 1rem}.beside{grid-template-columns:1fr!important}.margin{float:none;width:auto}}
            @media print{:root{--text:#000;--paper:#fff;--around:#fff;--tint:#f2f2f2}body{background:none}.sheet{max-width:none;margin:0;padding:0;box-shadow:none}figure,.box,.tiles,tr,.equation{break-inside:avoid}h2,h3,h4{break-after:avoid}details{display:none}}
            """;
    }
}
