/** The demo: a ferry line that does not exist, its people, its handbook and its scenes. */
@org.jspecify.annotations.NullMarked
package servitor.demo;
