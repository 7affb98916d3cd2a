/** What outside systems send to us: who signs it, and whether they did. */
@NullMarked
package servitor.connectors.inbound;

import org.jspecify.annotations.NullMarked;
