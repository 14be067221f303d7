package kadrem.files.report;

import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

import kadrem.figures.Mark;
import org.jfree.chart.JFreeChart;
import org.jsoup.nodes.Element;

/** A piece of a page being written. Every text goes through {@link Shown} and is escaped by the page's serializer. */
record Page(Element at, Drawer drawer) {
    /** The style of what is too long for paper. */
    static final String LONG = "long";

    /** A cell of a table: what is read, and by what it is sorted where that is a number. */
    record Cell(String text, Double sortedBy, String style, Optional<Mark> mark) {
        static Cell of(String text) {
            return new Cell(text, Double.NaN, "", Optional.empty());
        }

        static Cell number(String text, double value) {
            return new Cell(text, value, "number", Optional.empty());
        }

        /** A candidate with its marker. */
        static Cell of(Mark mark, String text) {
            return new Cell(text, Double.NaN, "", Optional.of(mark));
        }

        Cell styled(String name) {
            return new Cell(text, sortedBy, name, mark);
        }
    }

    Page section(String id, String heading) {
        Element section = at.appendElement("section").attr("id", id);
        section.appendElement("h2").text(heading);
        return new Page(section, drawer);
    }

    Page heading(String text) {
        at.appendElement("h3").text(Shown.text(text));
        return this;
    }

    Page paragraph(String text) {
        at.appendElement("p").text(Shown.text(text));
        return this;
    }

    Page note(String text) {
        at.appendElement("p").attr("class", "note").text(Shown.text(text));
        return this;
    }

    Page pre(String text) {
        at.appendElement("pre").text(Shown.text(text));
        return this;
    }

    Page list(List<String> items) {
        if (!items.isEmpty()) {
            Element list = at.appendElement("ul");
            items.forEach(item -> list.appendElement("li").text(Shown.text(item)));
        }
        return this;
    }

    /** Something that is folded up until it is asked for. */
    Page folded(String summary, Consumer<Page> inside) {
        return folded(summary, "", inside);
    }

    /** Something that is folded up, and too long for paper. */
    Page foldedAndLong(String summary, Consumer<Page> inside) {
        return folded(summary, LONG, inside);
    }

    private Page folded(String summary, String style, Consumer<Page> inside) {
        Element details = at.appendElement("details");
        if (!style.isEmpty()) {
            details.attr("class", style);
        }
        details.appendElement("summary").text(Shown.text(summary));
        inside.accept(new Page(details.appendElement("div"), drawer));
        return this;
    }

    /** A part of this page. */
    Page within(String tag) {
        return new Page(at.appendElement(tag), drawer);
    }

    Page figure(JFreeChart chart, String caption) {
        Element figure = at.appendElement("figure");
        figure.appendChild(drawer.figure(chart, caption));
        figure.appendElement("figcaption").text(Shown.text(caption));
        return this;
    }

    /** A table whose rows a reader can sort by a press on a column's head. */
    Page table(String caption, List<String> head, List<List<Cell>> rows) {
        Element table = at.appendElement("div").attr("class", "wide").appendElement("table");
        table.appendElement("caption").text(Shown.text(caption));
        Element top = table.appendElement("thead").appendElement("tr");
        head.forEach(text -> top.appendElement("th").attr("scope", "col").text(Shown.text(text)));
        Element body = table.appendElement("tbody");
        for (List<Cell> row : rows) {
            Element line = body.appendElement("tr");
            for (int i = 0; i < row.size(); i++) {
                Cell cell = row.get(i);
                Element place = line.appendElement(i == 0 ? "th" : "td").text(Shown.text(cell.text()));
                if (i == 0) {
                    place.attr("scope", "row");
                }
                cell.mark().ifPresent(mark -> place.prependChild(drawer.mark(mark)));
                if (!cell.style().isEmpty()) {
                    place.attr("class", cell.style());
                }
                if (!cell.sortedBy().isNaN()) {
                    place.attr("data-sort", cell.sortedBy().toString());
                }
            }
        }
        return this;
    }
}
