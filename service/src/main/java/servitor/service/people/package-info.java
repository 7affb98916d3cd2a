/** Users, roles, desks, groups and tokens, and who may do what. */
@org.jspecify.annotations.NullMarked
package servitor.service.people;
