/** Approvals as people see and answer them. */
@org.jspecify.annotations.NullMarked
package servitor.service.approvals;
