/** The demo's past: ninety days of the ferry line, played by the real engine on a simulated clock with scripted people. */
@org.jspecify.annotations.NullMarked
package servitor.demo.past;
