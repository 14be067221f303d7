package kadrem.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

import kadrem.core.check.StudyGrammar;
import kadrem.core.study.Protocols;
import kadrem.core.study.grammar.Grammar;
import kadrem.files.study.StudyFieldTables;
import kadrem.files.study.StudySchema;
import org.junit.jupiter.api.Test;

/**
 * Schema and tables of the study file are those of the grammar. They are written anew by
 * {@code mvn -pl cli -Dtest=StudyDocumentsTest -Dkadrem.write=true test}.
 */
class StudyDocumentsTest {
    private static final Grammar MEASURED = StudyGrammar.measured(Protocols.all());

    @Test
    void theSchemaIsThatOfTheGrammar() throws Exception {
        holds(Path.of("../docs/schemas/study.schema.json"), StudySchema.of(MEASURED, StudyGrammar.ofFigures()));
    }

    @Test
    void theTablesAreThoseOfTheGrammar() throws Exception {
        holds(Path.of("../docs/study-fields.md"), StudyFieldTables.of(MEASURED, StudyGrammar.ofFigures()));
    }

    private static void holds(Path file, String wanted) throws IOException {
        if (Boolean.getBoolean("kadrem.write")) {
            Files.writeString(file, wanted);
        }
        assertThat(Files.readString(file)).as("%s is stale; write it anew as this class says", file).isEqualTo(wanted);
    }
}
