/**
 * How runs are carried on: what happens within one transaction, how transactions are grouped and fenced, how work is
 * claimed, answered and taken up again. Everything here works on {@link servitor.core.engine.EngineStore}, whoever keeps them.
 */
@org.jspecify.annotations.NullMarked
package servitor.core.engine;
