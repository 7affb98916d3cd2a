package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/**
 * Every operation of the API, and what it answers to people who have no business with a passenger's case: another
 * passenger, a resolver of another desk, and an auditor, who sees everything and changes nothing.
 */
class RightsTests {
    private static final String TABLE = """
            GET    /api/session                                        200 200 200
            POST   /api/session                                        422 422 422
            DELETE /api/session                                        200 200 200
            POST   /api/session/password                               422 422 422
            GET    /api/stops                                          403 200 200
            POST   /api/stops                                          403 403 403
            POST   /api/stops/{what}/{name}/lift                       403 403 403
            GET    /api/today                                          200 200 200
            GET    /api/cases                                          200 200 200
            POST   /api/cases                                          422 422 422
            GET    /api/cases/{id}                                     404 404 200
            POST   /api/cases/{id}/notes                               404 404 403
            POST   /api/cases/{id}/resolution                          404 404 403
            POST   /api/cases/{id}/withdrawal                          404 404 403
            POST   /api/cases/{id}/documents                           404 404 403
            GET    /api/cases/{id}/documents/{document}                404 404 404
            GET    /api/cases/{id}/documents/{document}/reading        404 404 404
            GET    /api/cases/{id}/documents/{document}/pages/{page}   404 404 404
            GET    /api/cases/{id}/mails                               404 404 200
            GET    /api/cases/{id}/mails/{mail}                        404 404 404
            PUT    /api/cases/{id}/people/{person}                     404 404 403
            DELETE /api/cases/{id}/people/{person}                     404 404 403
            PUT    /api/cases/{id}/owner                               404 404 403
            POST   /api/cases/{id}/events                              404 404 403
            POST   /api/cases/{id}/runs                                404 404 403
            GET    /api/cases/{id}/lanes                               404 404 200
            GET    /api/cases/{id}/rehearsal                           403 403 403
            GET    /api/intake                                         200 200 200
            GET    /api/intake/{name}/left-out                         404 404 404
            POST   /api/intake/{name}/left-out/{mail}                  404 404 404
            POST   /api/intake/{name}/mails                            404 404 404
            POST   /api/intake/{name}                                  403 403 403
            GET    /api/intake/{name}/events                           404 404 200
            GET    /api/intake/{name}/events/{event}                   404 404 404
            POST   /api/hooks/{name}                                   403 403 403
            GET    /api/backups                                        403 403 403
            POST   /api/backups                                        403 403 403
            POST   /api/backups/moving-out                             403 403 403
            GET    /api/backups/{name}                                 403 403 403
            POST   /api/callbacks/{token}                              404 404 404
            GET    /api/public/forms/{kind}                            404 404 404
            POST   /api/public/forms/{kind}                            404 404 404
            GET    /api/public/confirmation                            404 404 404
            POST   /api/public/confirmation                            404 404 404
            GET    /api/public/approval                                404 404 404
            POST   /api/public/approval/answers                        404 404 404
            GET    /api/public/case                                    404 404 404
            POST   /api/public/case/notes                              404 404 404
            POST   /api/public/case/documents                          404 404 404
            POST   /api/public/case/withdrawal                         404 404 404
            GET    /api/forms                                          200 200 200
            GET    /api/runs                                           200 200 200
            GET    /api/runs/{id}                                      404 404 200
            POST   /api/runs/{id}/edition                              404 404 403
            POST   /api/runs/{id}/settlement                           404 404 403
            POST   /api/runs/{id}/by-hand                              404 404 403
            POST   /api/runs/{id}/pause                                404 404 403
            POST   /api/runs/{id}/resume                               404 404 403
            POST   /api/runs/{id}/notes                                404 404 403
            POST   /api/runs/{id}/reading                              404 404 403
            POST   /api/runs/{id}/troubles/{trouble}                      404 404 404
            POST   /api/runs/{id}/stop                                 404 404 403
            GET    /api/approvals                                      200 200 200
            POST   /api/approvals/together                             422 422 422
            GET    /api/approvals/{id}                                 404 404 200
            GET    /api/approvals/{id}/seen                            404 404 200
            GET    /api/approvals/{id}/seen/{picture}                  404 404 404
            POST   /api/approvals/{id}/hand                            404 404 403
            POST   /api/approvals/{id}/reading                         404 404 200
            POST   /api/approvals/{id}/answers                         404 404 403
            POST   /api/approvals/{id}/late                            404 404 403
            GET    /api/trail                                          404 404 200
            GET    /api/trail/verification                             403 403 200
            GET    /api/trail/export                                   403 403 200
            GET    /api/trail/{seq}/material                           404 404 200
            GET    /api/handbook/kinds                                 200 200 200
            GET    /api/handbook/kinds/{name}/link                     404 404 404
            GET    /api/handbook/kinds/{name}/qr                       404 404 404
            POST   /api/handbook/check                                 403 403 403
            GET    /api/handbook/editions                              403 200 200
            POST   /api/handbook/editions                              403 403 403
            GET    /api/handbook/consents                              403 403 403
            GET    /api/handbook/consents/{id}                         403 403 403
            POST   /api/handbook/consents                              403 403 403
            GET    /api/handbook/editions/{number}                     403 200 200
            GET    /api/handbook/editions/{number}/changes-to/{other}  403 200 200
            POST   /api/handbook/editions/{number}/restore             403 403 403
            GET    /api/handbook/pages/{name}                          403 200 200
            GET    /api/handbook/catalogue                             403 200 200
            POST   /api/handbook/catalogue/{entry}/choices             403 403 403
            GET    /api/handbook/draft                                 403 403 403
            GET    /api/handbook/draft/file                            403 403 403
            PUT    /api/handbook/draft/file                            403 403 403
            DELETE /api/handbook/draft/file                            403 403 403
            POST   /api/handbook/draft/file/keep                       403 403 403
            GET    /api/handbook/draft/assessment                      403 403 403
            GET    /api/handbook/draft/changes                         403 403 403
            POST   /api/handbook/draft/publish                         403 403 403
            GET    /api/handbook/draft/rehearsals                      403 403 403
            GET    /api/handbook/draft/rehearsals/{name}               403 403 403
            GET    /api/handbook/look-back                             403 403 403
            POST   /api/handbook/look-back                             403 403 403
            POST   /api/handbook/look-back/stop                        403 403 403
            POST   /api/handbook/look-back/resume                      403 403 403
            GET    /api/handbook/look-back/cases/{id}                  403 403 403
            POST   /api/handbook/draft/start                           403 403 403
            GET    /api/people                                         403 403 403
            GET    /api/people/{id}                                    403 403 403
            PUT    /api/people/{id}                                    403 403 403
            DELETE /api/people/{id}/sessions                           403 403 403
            GET    /api/people/{id}/deputy                             403 403 403
            PUT    /api/people/{id}/deputy                             403 403 403
            DELETE /api/people/{id}/deputy                             403 403 403
            GET    /api/people/{id}/tokens                             403 403 403
            POST   /api/people/{id}/tokens                             403 403 403
            DELETE /api/people/{id}/tokens                             403 403 403
            GET    /api/mailboxes                                      403 403 403
            GET    /api/connections                                    403 403 403
            GET    /api/connections/{name}                             403 403 403
            PUT    /api/connections/{name}                             403 403 403
            DELETE /api/connections/{name}                             403 403 403
            POST   /api/connections/{name}/sign-in                     403 403 403
            POST   /api/connections/sign-ins                           403 403 403
            POST   /api/connections/{name}/test                        403 403 403
            GET    /api/connections/{name}/tools                       403 403 403
            POST   /api/connections/key                                403 403 403
            GET    /api/tools                                          403 403 403
            POST   /api/tools/proposal                                 403 403 403
            POST   /api/tools/{name}/try                               403 403 403
            GET    /api/mandates/table                                 403 200 200
            GET    /api/mandates/table.csv                             403 200 200
            POST   /api/mandates/limits                                403 403 403
            GET    /api/agreement                                         403 200 200
            POST   /api/handbook/draft/works                           403 403 403
            GET    /api/handbook/draft/pages/{name}/untouched          403 403 403
            GET    /api/handbook/draft/tries                           403 403 403
            POST   /api/handbook/draft/tries                           403 403 403
            GET    /api/handbook/draft/tries/{id}                      403 403 403
            DELETE /api/handbook/draft/tries/{id}                      403 403 403
            POST   /api/handbook/draft/tries/{id}/answers              403 403 403
            POST   /api/handbook/draft/tries/{id}/for-real             403 403 403
            POST   /api/handbook/draft/tries/{id}/back                 403 403 403
            POST   /api/handbook/draft/tries/{id}/rehearsal            403 403 403
            POST   /api/mandates/try                                   403 404 404
            GET    /api/models                                         403 200 200
            POST   /api/models/{name}/try                              403 403 403
            GET    /api/agents                                         403 200 200
            GET    /api/agents/{name}                                  403 404 404
            POST   /api/agents/{name}/prompt                           403 404 404
            POST   /api/agents/{name}/try                              403 403 403
            GET    /api/live                                           406 406 406
            GET    /api/openapi.json                                   200 200 200
            """;

    private static final Household HOUSEHOLD = Household.shared();
    private static String caseId;
    private static String run;
    private static String approval;
    private static String entry;

    record Row(String method, String path, int requester, int otherDesk, int auditor) {
        boolean writes() {
            return !method.equals("GET");
        }

        /** The path with the names of a case of Ines's, its run and its approval. */
        String filled() {
            String id = path.startsWith("/api/runs") ? run : path.startsWith("/api/approvals") ? approval : caseId;
            String filled = path.startsWith("/api/people") ? path.replace("{id}", "osei") : path.replace("{id}", id);
            return filled.replace("{number}", "1")
                            .replace("{entry}", "file-a-task")
                            .replace("{mail}", "none")
                            .replace("{event}", "none")
                            .replace("{person}", "bram")
                            .replace("{kind}", "refund")
                            .replace("{seq}", entry)
                            .replace("{other}", "1")
                            .replace("{what}", "connection")
                            .replace("{document}", "D-1")
                            .replace("{picture}", "none")
                            .replace("{page}", "1")
                            .replace("{trouble}", "none")
                            .replace("{token}", run + "-2." + "A".repeat(43))
                            .replace(
                                    "{name}",
                                    path.contains("pages")
                                            ? "cancelled-sailing-refund"
                                            : path.matches(".*/(intake|hooks)/.*") ? "harbour-kiosks" : "fares")
                    + (path.contains("/draft/")
                            ? "?path=desks.yaml"
                            : path.endsWith("/trail")
                                    ? "?case=" + caseId
                                    : method.equals("DELETE") && path.endsWith("/tokens") ? "?label=x" : "");
        }

        String body() {
            if (method.equals("GET") || method.equals("DELETE")) {
                return null;
            }
            String last = path.substring(path.lastIndexOf('/') + 1);
            return switch (last) {
                case "notes" ->
                    path.matches("/api/(runs|public)/.*") ? "{\"text\":\"hi\"}" : "{\"text\":\"hi\",\"staff\":true}";
                case "{trouble}" -> "{\"does\":\"retry\",\"reason\":\"I say so.\"}";
                case "documents" -> "{\"name\":\"a.txt\",\"type\":\"text/plain\",\"content\":\"YQ==\"}";
                case "events" -> "{\"name\":\"arrived\"}";
                case "runs" -> "{\"page\":\"cancelled-sailing-refund\"}";
                case "edition" -> "{\"edition\":1}";
                case "by-hand" -> "{\"did\":\"done\",\"reason\":\"I say so.\"}";
                case "settlement" -> "{\"happened\":true,\"reason\":\"I say so.\"}";
                case "stops" -> "{\"what\":\"connection\",\"name\":\"fares\",\"reason\":\"I say so.\"}";
                case "reading" -> "{\"text\":\"go ahead\"}";
                case "late" -> "{\"digest\":\"x\"}";
                case "stop", "pause", "lift" -> "{\"reason\":\"I say so.\"}";
                case "answers" ->
                    path.contains("/tries/")
                            ? "{}"
                            : path.startsWith("/api/public")
                                    ? "{\"decision\":\"decline\",\"reason\":\"x\"}"
                                    : "{\"decision\":\"approve\",\"digest\":\"x\",\"text\":\"x\"}";
                case "check", "editions" -> "{\"files\":{}}";
                case "tokens" -> "{\"label\":\"x\"}";
                case "{name}" -> "{\"url\":\"http://127.0.0.1:9\"}";
                case "file" -> "{\"text\":\"x\"}";
                case "start" -> "{\"entry\":\"refund\",\"names\":{}}";
                default -> "{}";
            };
        }
    }

    static Stream<Row> rows() {
        return TABLE.lines()
                .map(line -> line.split("\\s+"))
                .map(cells -> new Row(
                        cells[0],
                        cells[1],
                        Integer.parseInt(cells[2]),
                        Integer.parseInt(cells[3]),
                        Integer.parseInt(cells[4])));
    }

    static synchronized void aCaseOfInes() {
        if (caseId == null) {
            caseId = HOUSEHOLD.openRefund("ines", "SK-600991");
            approval = HOUSEHOLD.approvalOf(caseId);
            entry = HOUSEHOLD
                    .entryWithMaterial(caseId, "model-asked")
                    .path("seq")
                    .asString();
            run = HOUSEHOLD
                    .as("noor")
                    .get("/api/cases/" + caseId)
                    .path("runs")
                    .path(0)
                    .path("id")
                    .asString();
        }
    }

    @ParameterizedTest
    @MethodSource("rows")
    void eachIsAnsweredByRoleAndDesk(Row row) {
        aCaseOfInes();
        assertThat(status("bram", row)).as("another passenger: %s", row).isEqualTo(row.requester());
        assertThat(status("teun", row)).as("another desk: %s", row).isEqualTo(row.otherDesk());
        assertThat(status("noor", row)).as("an auditor: %s", row).isEqualTo(row.auditor());
    }

    private static int status(String person, Row row) {
        return asking(Http.as(HOUSEHOLD, person), row)
                .send(row.method(), row.filled(), row.body())
                .status();
    }

    /** The stream of changes never ends, so it is asked for in a form that it doesn't have; mails are no JSON. */
    private static Http asking(Http http, Row row) {
        if (row.path().endsWith("/mails") && row.writes()) {
            http.with("Content-Type", "message/rfc822");
        }
        if (row.path().startsWith("/api/public/")) {
            http.with("Form-Link", "C-1001.9999999999.AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA");
        }
        return row.path().equals("/api/live") ? http.with("Accept", "application/json") : http;
    }

    /** What says who one is and what the API is, which somebody needs to know before they have signed in. */
    private static final Set<String> OPEN = Set.of("/api/session", "/api/openapi.json");

    @ParameterizedTest
    @MethodSource("rows")
    void nothingIsAnsweredToNobody(Row row) {
        aCaseOfInes();
        Http nobody = asking(new Http(HOUSEHOLD.url()), row);
        int status = nobody.send(row.method(), row.filled(), row.body()).status();
        assertThat(status)
                .as("%s", row)
                .isIn(
                        row.path().contains("{token}")
                                        || row.path().startsWith("/api/hooks")
                                        || row.path().startsWith("/api/public")
                                ? Set.of(404) // it brings a proof of its own, and this one is forged, or none is taken
                                // there
                                : row.writes()
                                        ? Set.of(401, 403)
                                        : OPEN.contains(row.path()) ? Set.of(200) : Set.of(401));
    }

    @Test
    void nothingIsLeftOut() {
        Set<String> described = new TreeSet<>();
        Json.read(Http.as(HOUSEHOLD, "noor").get("/api/openapi.json").body(), JsonNode.class)
                .path("paths")
                .properties()
                .forEach(path -> path.getValue().properties().stream()
                        .map(Map.Entry::getKey)
                        .filter(Set.of("get", "post", "put", "delete", "patch")::contains)
                        .forEach(method -> described.add(method.toUpperCase(Locale.ROOT) + " " + path.getKey())));
        assertThat(rows().map(row -> row.method() + " " + row.path())).containsExactlyInAnyOrderElementsOf(described);
    }
}
