/** Published handbooks. */
@org.jspecify.annotations.NullMarked
package servitor.service.editions;
