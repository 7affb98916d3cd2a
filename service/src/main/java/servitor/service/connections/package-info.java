/** Outside systems by name. */
@org.jspecify.annotations.NullMarked
package servitor.service.connections;
