/**
 * What the model stand-in answers, from what it was asked alone: by the names and types of what it was given, and by lists of words in
 * English, German and French. It understands nothing, and says so in every reason.
 */
@org.jspecify.annotations.NullMarked
package servitor.standins.model;
