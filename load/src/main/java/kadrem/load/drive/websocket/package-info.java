/** WebSocket (RFC 6455), with compression of messages (RFC 7692) where the server agrees. */
@NullMarked
package kadrem.load.drive.websocket;

import org.jspecify.annotations.NullMarked;
