package kadrem.desk.candidates;

import java.util.EnumMap;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import kadrem.core.study.Candidate;

/**
 * Which groups of attributes are open: those in which candidates differ, and those that the user has opened; a group that the user has
 * closed stays closed. The head of each says in a line what it holds.
 */
final class AttributeGroups {
    private final Runnable changed;
    private final Set<Attribute.Group> open = EnumSet.of(Attribute.Group.ESSENTIALS);
    private final Set<Attribute.Group> closed = EnumSet.noneOf(Attribute.Group.class);
    private final Map<Attribute.Group, Head> heads = new EnumMap<>(Attribute.Group.class);

    private record Head(Button button, Label words, HBox view) {
    }

    /** @param changed told when the user opens or closes a group */
    AttributeGroups(Runnable changed) {
        this.changed = changed;
    }

    /** The groups that are open for these candidates. */
    Set<Attribute.Group> open(List<Candidate> candidates) {
        for (Attribute one : Attribute.ALL) {
            if (!closed.contains(one.group()) && one.differs(candidates)) {
                // and stays so, for whoever makes them the same goes on writing
                open.add(one.group());
            }
        }
        return Set.copyOf(open);
    }

    /** The head of a group, made at its first showing. */
    Node head(Attribute.Group group) {
        return heads.computeIfAbsent(group, this::made).view();
    }

    private Head made(Attribute.Group group) {
        var button = new Button();
        button.getStyleClass().add("group-head");
        button.setId("group-" + group.name().toLowerCase(java.util.Locale.ROOT));
        button.setMnemonicParsing(false);
        button.setOnAction(_ -> {
            if (open.remove(group)) {
                closed.add(group);
            } else {
                open.add(group);
                closed.remove(group);
            }
            changed.run();
        });
        var words = new Label();
        words.getStyleClass().add("muted");
        words.setMinWidth(0);
        var view = new HBox(10, button, words);
        view.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        return new Head(button, words, view);
    }

    /** Has the heads say what their groups hold now. */
    void show(List<Candidate> candidates) {
        heads.forEach((group, head) -> {
            boolean isOpen = open.contains(group);
            String words = words(group, candidates);
            head.button().setText((isOpen ? "▾  " : "▸  ") + group.title());
            head.button().setAccessibleText(group.title() + ", " + (isOpen ? "open" : "closed") + ": " + words);
            head.words().setText(words);
            head.words().setTooltip(new Tooltip(words));
        });
    }

    /** What candidates differ in, else what the study says of all of them. */
    private static String words(Attribute.Group group, List<Candidate> candidates) {
        List<Attribute> all = Attribute.ALL.stream().filter(one -> one.group() == group).toList();
        String differing = all.stream().filter(one -> one.differs(candidates)).map(Attribute::name)
                .collect(Collectors.joining(", "));
        if (!differing.isEmpty()) {
            return "differs in " + differing;
        }
        String said = all.stream()
                .filter(one -> candidates.stream().anyMatch(each -> !one.text().apply(each).isEmpty()))
                .map(one -> one.name() + " " + one.text().apply(candidates.getFirst()))
                .collect(Collectors.joining(", "));
        return said.isEmpty()
                ? "as usual: " + all.stream().filter(one -> !one.name().equals("settings"))
                        .map(one -> one.name() + " " + one.hint()).collect(Collectors.joining(", "))
                : "the same for all: " + said;
    }
}
