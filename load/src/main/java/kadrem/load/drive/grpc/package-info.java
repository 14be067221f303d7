/** gRPC: calls of any method of a service that is described by reflection, a descriptor set or .proto files. */
@NullMarked
package kadrem.load.drive.grpc;

import org.jspecify.annotations.NullMarked;
