/** Messages to web hooks of others, signed by the Standard Webhooks convention. */
@NullMarked
package servitor.connectors.webhook;

import org.jspecify.annotations.NullMarked;
