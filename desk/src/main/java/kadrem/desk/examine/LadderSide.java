package kadrem.desk.examine;

import java.util.List;

import javafx.scene.Node;
import kadrem.desk.run.Ladders;

/** Throughput of the chosen runs by level. */
final class LadderSide implements ExamineSide {
    @Override
    public List<Node> show(Looked looked) {
        return Ladders.of(looked.theme(), looked.state().study(), looked.runs().stream().map(Examined::run).toList());
    }
}
