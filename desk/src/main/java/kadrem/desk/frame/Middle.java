package kadrem.desk.frame;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.Parent;
import javafx.scene.layout.StackPane;

/**
 * The middle of the window, where one view is seen. A view that comes back stays in the scene, unseen, while another is shown, so that
 * nothing of it is styled anew; any other goes when it is left. Interface thread only.
 */
final class Middle {
    private final StackPane pane = new StackPane();
    private Node seen = new StackPane();
    private boolean comesBack;

    Middle() {
        pane.setMinSize(0, 0);
        // what has too little room lacks its end, not its head
        pane.setAlignment(Pos.TOP_LEFT);
        pane.setId("middle");
    }

    Node view() {
        return pane;
    }

    Node seen() {
        return seen;
    }

    /** Shows a view that comes back. */
    void show(Node view) {
        show(view, true);
    }

    /** Shows a view that is not kept when it is left. */
    void showOnce(Node view) {
        show(view, false);
    }

    private void show(Node view, boolean again) {
        if (view != seen) {
            put(view);
            setSeen(view, true);
            setSeen(seen, false);
            if (!comesBack) {
                pane.getChildren().remove(seen);
            }
            seen = view;
        }
        comesBack = again;
    }

    private void put(Node view) {
        if (!pane.getChildren().contains(view)) {
            pane.getChildren().add(view);
        }
    }

    private static void setSeen(Node view, boolean isSeen) {
        view.setManaged(isSeen);
        view.setVisible(isSeen);
    }

    /** Styles and lays out a view that comes back later, so that nothing of this is left to do then. */
    void layOutAside(Parent view) {
        setSeen(view, false);
        put(view);
        view.applyCss();
        view.resizeRelocate(0, 0, pane.getWidth(), pane.getHeight());
        view.layout();
    }
}
