package servitor.connectors.terminal;

import java.io.IOException;
import java.net.ConnectException;
import java.net.SocketTimeoutException;
import java.net.UnknownHostException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.TimeUnit;
import java.util.regex.Pattern;
import net.sf.expectit.Expect;
import net.sf.expectit.ExpectBuilder;
import net.sf.expectit.MultiResult;
import net.sf.expectit.Result;
import net.sf.expectit.matcher.Matcher;
import net.sf.expectit.matcher.Matchers;
import servitor.connectors.access.Access;
import servitor.connectors.access.BoundedStream;
import servitor.connectors.access.Connector;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Reply;
import servitor.core.expression.EvaluationFailed;
import servitor.core.handbook.Binding.Dialogue;
import servitor.core.handbook.Binding.Line;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import tools.jackson.databind.node.ObjectNode;

/**
 * A dialogue over TCP or SSH: lines are sent and answers waited for, as the tool declares. What was said on both sides comes
 * along as a transcript without secrets, whatever came of it. An input that could start a line of its own is refused.
 */
public final class DialogueTool implements Connector<Dialogue> {
    private static final int LONGEST_TRANSCRIPT = 20_000;
    private static final Pattern CONTROL = Pattern.compile("\\p{Cntrl}");

    @Override
    public Reply call(Access access, Dialogue binding, ObjectNode args, String key, Deadline deadline) {
        for (var input : args.properties()) {
            if (CONTROL.matcher(input.getValue().asString("")).find()) {
                return new Reply.Refused(
                        Problem.INVALID, "‘" + input.getKey() + "’ holds a character that isn't part of a line");
            }
        }
        Talk talk = new Talk(access.credentials(), scope(access, args));
        Reply reply = hold(access, binding, deadline, talk);
        return talk.transcript.isEmpty() ? reply : new Reply.WithTranscript(reply, talk.transcript.toString());
    }

    private static Reply hold(Access access, Dialogue binding, Deadline deadline, Talk talk) {
        try (Wire wire = Wire.open(access, deadline);
                Expect expect = over(wire, deadline)) {
            return talk(binding, expect, talk, deadline);
        } catch (Wire.NotLetIn e) {
            return new Reply.Refused(Problem.REFUSED, String.valueOf(e.getMessage()));
        } catch (ConnectException | SocketTimeoutException | UnknownHostException e) {
            return new Reply.NotSent(access.address().getAuthority() + " can't be reached");
        } catch (IOException e) {
            return talk.sent == 0
                    ? new Reply.NotSent("the connection broke before anything was sent")
                    : new Reply.Unknown("the dialogue broke off", false);
        } catch (EvaluationFailed e) {
            return new Reply.Refused(Problem.INVALID, "a line can't be made up: " + e.getMessage());
        }
    }

    @Override
    public Reply test(Access access, Deadline deadline) {
        try (Wire wire = Wire.open(access, deadline)) {
            return new Reply.Answered(
                    200, Json.object().put("reached", access.address().getAuthority()));
        } catch (Wire.NotLetIn e) {
            return new Reply.Refused(Problem.REFUSED, String.valueOf(e.getMessage()));
        } catch (IOException e) {
            return new Reply.NotSent(access.address().getAuthority() + " can't be reached");
        }
    }

    /** What has been said so far. */
    private static final class Talk {
        private final Credentials credentials;
        private final Map<String, TracedValue> scope;
        private final StringBuilder transcript = new StringBuilder();
        private int sent;

        Talk(Credentials credentials, Map<String, TracedValue> scope) {
            this.credentials = credentials;
            this.scope = scope;
        }

        void note(String sign, String text) {
            String shown = text;
            if (credentials instanceof Credentials.Password password) {
                shown = shown.replace(password.secret(), "•••");
            }
            String line = sign + shown.strip() + '\n';
            transcript.append(line, 0, Math.min(line.length(), LONGEST_TRANSCRIPT - transcript.length()));
        }
    }

    private static Map<String, TracedValue> scope(Access access, ObjectNode args) {
        ObjectNode signIn = Json.object().put("user", "").put("secret", "");
        if (access.credentials() instanceof Credentials.Password password) {
            signIn.put("user", password.user()).put("secret", password.secret());
        } else if (access.credentials() instanceof Credentials.Key key) {
            signIn.put("user", key.user());
        }
        return Map.of(
                "args", TracedValue.of(args, Origin.HANDBOOK), "connection", TracedValue.of(signIn, Origin.HANDBOOK));
    }

    private static Expect over(Wire wire, Deadline deadline) throws IOException {
        return new ExpectBuilder()
                .withInputs(new BoundedStream(wire.heard()))
                .withOutput(wire.said())
                .withCharset(StandardCharsets.UTF_8)
                .withLineSeparator(wire.lineEnd())
                .withTimeout(deadline.millis(), TimeUnit.MILLISECONDS)
                .build();
    }

    private static Reply talk(Dialogue binding, Expect expect, Talk talk, Deadline deadline)
            throws IOException, EvaluationFailed {
        ObjectNode answer = Json.object();
        for (Line line : binding.lines()) {
            if (line.send() != null) {
                String text = line.send().fill(talk.scope).value().asString("");
                talk.note("> ", text);
                expect.sendLine(text);
                talk.sent++;
            }
            if (line.expect() != null) {
                Map<String, String> otherwise = new LinkedHashMap<>(line.otherwise());
                List<Matcher<?>> any = new ArrayList<>(List.of(Matchers.regexp(line.expect())));
                otherwise.keySet().forEach(pattern -> any.add(Matchers.regexp(pattern)));
                MultiResult heard = expect.expect(deadline.millis(), Matchers.anyOf(any.toArray(new Matcher<?>[0])));
                if (!heard.isSuccessful()) {
                    talk.note("< ", heard.getInput());
                    return new Reply.Unknown("nothing that was expected was said in time", true);
                }
                talk.note("< ", heard.getBefore() + heard.group());
                int which = 0;
                for (Result result : heard.getResults()) {
                    if (result.isSuccessful()) {
                        break;
                    }
                    which++;
                }
                if (which > 0) {
                    String said = new ArrayList<>(otherwise.keySet()).get(which - 1);
                    return new Reply.Refused(
                            Objects.requireNonNull(otherwise.get(said)), "it said: " + shorten(heard.group()));
                }
                Result first = heard.getResults().get(0);
                line.capture().forEach((output, group) -> {
                    if (group <= first.groupCount()) {
                        answer.put(output, first.group(group));
                    }
                });
            }
        }
        return new Reply.Answered(200, answer);
    }

    private static String shorten(String text) {
        String line = text.strip();
        return line.length() <= 200 ? line : line.substring(0, 200);
    }
}
