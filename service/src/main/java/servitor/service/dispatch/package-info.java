/** Carries out commands: claims them, calls tools and models, feeds back what came of it. */
@org.jspecify.annotations.NullMarked
package servitor.service.dispatch;
