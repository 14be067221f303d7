/** GraphQL over HTTP: a call of HTTP whose body is a query. */
@NullMarked
package kadrem.load.drive.graphql;

import org.jspecify.annotations.NullMarked;
