/** Messages of outside systems, and the cases they become. */
@org.jspecify.annotations.NullMarked
package servitor.service.intake;
