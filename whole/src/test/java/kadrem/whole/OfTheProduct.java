package kadrem.whole;

import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.core.importer.Location;

/** What is shipped: neither tests nor what they share. */
public final class OfTheProduct implements ImportOption {
    private static final DoNotIncludeTests NO_TESTS = new DoNotIncludeTests();

    @Override
    public boolean includes(Location location) {
        return NO_TESTS.includes(location) && !location.contains("/kadrem/fixtures/");
    }
}
