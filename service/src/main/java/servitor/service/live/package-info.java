/** Server-sent events. */
@org.jspecify.annotations.NullMarked
package servitor.service.live;
