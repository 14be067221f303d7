package kadrem.load.drive.http;

import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Wire;
import kadrem.load.drive.Secrets;

/** What all connections to a candidate share: its calls compiled to templates, and how they travel. */
record HttpParts(Address address, Wire wire, Call[] calls, RequestTemplate[] templates, Credentials credentials,
        Secrets secrets) {
}
