package kadrem.files.run;

import java.util.List;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import kadrem.core.measure.GeneratorFigures;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.Soundness;
import kadrem.core.study.LoadProfile;

/** A trial of one address as JSON; the schema is docs/schemas/trial.schema.json. */
public final class TrialJson {
    private static final ObjectMapper MAPPER = new ObjectMapper().enable(SerializationFeature.INDENT_OUTPUT);

    private TrialJson() {
    }

    public static String write(String url, LoadProfile.Single load, RunFigures figures,
            List<Soundness.Finding> soundness,
            GeneratorFigures generator) {
        ObjectNode root = MAPPER.createObjectNode();
        root.put("url", url);
        switch (load) {
            case LoadProfile.Closed closed -> root.put("model", "closed").put("users", closed.users())
                    .put("thinkTimeNanos", closed.thinkTime().mean().toNanos());
            case LoadProfile.Open open -> root.put("model", "open").put("arrivalsPerSecond", open.arrivalsPerSecond())
                    .put("spacing", open.spacing().id()).put("connections", open.connections());
        }
        root.put("warmUpSeconds", load.warmUp().toSeconds());
        root.setAll(FiguresJson.write(figures));
        root.set("generator", RunJson.generator(generator));
        root.put("sound", soundness.stream().allMatch(Soundness.Finding::ok));
        ArrayNode reasons = root.putArray("reasons");
        soundness.stream().filter(finding -> !finding.ok()).map(Soundness.Finding::sentence).forEach(reasons::add);
        root.set("soundness", RunJson.soundness(soundness));
        try {
            return MAPPER.writeValueAsString(root);
        } catch (JsonProcessingException impossible) {
            throw new IllegalStateException(impossible);
        }
    }
}
