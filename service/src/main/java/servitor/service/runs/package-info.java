/** Feeds the run machine and keeps what it says, inside the writer's transaction. */
@org.jspecify.annotations.NullMarked
package servitor.service.runs;
