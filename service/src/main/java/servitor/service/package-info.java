/** The service: Spring Boot around the pure core. */
@org.jspecify.annotations.NullMarked
package servitor.service;
