package servitor.core.handbook.openapi;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.handbook.HttpBody;
import servitor.core.handbook.HttpParameter;
import servitor.core.handbook.openapi.ApiDescription.Operation;
import servitor.core.json.Json;
import servitor.core.json.Schemas;
import tools.jackson.databind.JsonNode;

class ApiDescriptionTests {
    private static ApiDescription api(String version, String paths, String components) {
        return new ApiDescription(
                Documents.read("openapi: " + version + "\ninfo: { title: Depot, version: '1' }\npaths: { " + paths
                        + " }\ncomponents: { " + components + " }\n"));
    }

    private static Operation only(ApiDescription api) {
        String name = api.operations().keySet().iterator().next();
        return api.operation(name, "depot").orElseThrow();
    }

    private static Operation posting(String version, String schema, String schemas) {
        return only(api(
                version,
                "/a: { post: { requestBody: { required: true, content: { application/json: { schema: " + schema
                        + " } } } } }",
                "schemas: { " + schemas + " }"));
    }

    private static List<String> violations(Operation operation, String args) {
        assertThat(Schemas.fault(operation.inputs())).as("a JSON Schema").isEmpty();
        return Schemas.violations(operation.inputs(), Json.read(args, JsonNode.class));
    }

    @Test
    void anOperationWithoutAnIdIsCalledByMethodAndPath() {
        ApiDescription api = api(
                "3.1.0",
                "'/a/{id}': { get: {}, delete: { operationId: gone }, put: { operationId: gone } }, /b: { get: {} }",
                "");
        assertThat(api.operations().keySet()).containsExactly("GET /a/{id}", "gone", "PUT /a/{id}", "GET /b");
    }

    @Test
    void whatRefersToItselfIsKeptByReference() {
        Operation tree = posting(
                "3.1.0",
                "{ $ref: '#/components/schemas/Part' }",
                "Part: { type: object, required: [name], properties: { name: { type: string }, parts: { type: array, items: { $ref: '#/components/schemas/Part' } } } }");
        String deep =
                "{\"name\":\"ship\",\"parts\":[{\"name\":\"deck\",\"parts\":[{\"name\":\"plank\",\"parts\":[%s]}]}]}";
        assertThat(violations(tree, deep.formatted("{\"name\":\"nail\"}"))).isEmpty();
        assertThat(violations(tree, deep.formatted("{\"name\":7}")))
                .as("at any depth")
                .isNotEmpty();
    }

    @Test
    void whatIsDeepIsNotCut() {
        StringBuilder schema = new StringBuilder("{ type: string, maxLength: 3 }");
        StringBuilder fits = new StringBuilder("\"abc\"");
        StringBuilder doesnt = new StringBuilder("\"abcd\"");
        for (int i = 0; i < 40; i++) {
            schema.insert(0, "{ type: object, properties: { d: ").append(" } }");
            fits.insert(0, "{\"d\":").append("}");
            doesnt.insert(0, "{\"d\":").append("}");
        }
        Operation deep = posting("3.1.0", schema.toString(), "");
        assertThat(violations(deep, fits.toString())).isEmpty();
        assertThat(violations(deep, doesnt.toString())).isNotEmpty();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{ type: string, nullable: true }|null",
                "{ type: string, enum: [a], nullable: true }|null",
                "{ nullable: true, allOf: [{ $ref: '#/components/schemas/Name' }] }|null",
                "{ type: integer, minimum: 3, exclusiveMinimum: true }|4",
                "{ type: integer, minimum: 3, exclusiveMinimum: false }|3",
                "{ type: string, example: x }|\"y\""
            })
    void whatOpenApi30SaysInItsOwnWayIsMeantTheSame(String schema, String fits) {
        Operation operation =
                posting("3.0.3", "{ type: object, properties: { v: " + schema + " } }", "Name: { type: string }");
        assertThat(violations(operation, "{\"v\":" + fits + "}")).isEmpty();
    }

    @Test
    void aBoundThatIsOutIsOut() {
        Operation operation = posting(
                "3.0.3",
                "{ type: object, properties: { v: { type: integer, minimum: 3, exclusiveMinimum: true } } }",
                "");
        assertThat(violations(operation, "{\"v\":3}")).isNotEmpty();
    }

    @Test
    void whatIsPutTogetherHasItsFieldsAsInputs() {
        Operation operation = posting(
                "3.1.0",
                "{ allOf: [{ $ref: '#/components/schemas/A' }, { type: object, required: [b], properties: { b: { type: string } } }] }",
                "A: { type: object, required: [a], properties: { a: { type: string }, id: { type: string, readOnly: true } } }");
        assertThat(operation.inputs().path("properties").propertyNames()).containsExactly("a", "b");
        assertThat(operation.inputs().path("required")).hasToString("[\"a\",\"b\"]");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{ oneOf: [{ type: object, properties: { a: {} } }, { type: object, properties: { b: {} } }] }",
                "{ type: array, items: { type: string } }",
                "{ type: object, additionalProperties: { type: string } }",
                "{ type: object, properties: { a: {} }, additionalProperties: { type: string } }",
                "{ type: object, properties: { a: {} }, minProperties: 1 }",
                "{}"
            })
    void aBodyThatIsNoPlainObjectIsOneInput(String schema) {
        Operation operation = posting("3.1.0", schema, "");
        assertThat(operation.inputs().path("properties").propertyNames()).containsExactly("body");
        HttpBody body = operation.binding().body();
        assertThat(body).isNotNull();
        assertThat(body.whole()).isEqualTo("body");
    }

    @Test
    void inputsOfOneNameAreToldApart() {
        Operation operation = only(api(
                "3.1.0",
                "'/a/{id}': { post: { parameters: [{ name: id, in: path, required: true, schema: { type: string } }, { name: id, in: query,"
                        + " schema: { type: string } }], requestBody: { content: { application/json: { schema: { type: object, properties:"
                        + " { id: { type: integer } } } } } } } }",
                ""));
        assertThat(operation.inputs().path("properties").propertyNames()).containsExactly("id", "query-id", "body-id");
        assertThat(operation.binding().parameters())
                .extracting(HttpParameter::input, HttpParameter::name)
                .containsExactly(
                        org.assertj.core.groups.Tuple.tuple("id", "id"),
                        org.assertj.core.groups.Tuple.tuple("query-id", "id"));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "parameters: [{ name: s, in: cookie, required: true, schema: {} }]|‘s’ goes into a cookie",
                "parameters: [{ $ref: '#/components/parameters/Gone' }]|leads to nothing",
                "requestBody: { $ref: '#/components/requestBodies/Gone' }|leads to nothing",
                "parameters: [{ name: s, in: query, style: woven, schema: {} }]|a style ‘woven’",
                "requestBody: { required: true, content: { application/x-protobuf: {} } }|Its body is application/x-protobuf",
                "requestBody: { required: true, content: { multipart/form-data: {} } }|a form whose fields aren't known"
            })
    void whatCantBeSentIsAFault(String operation, String why) {
        assertThat(only(api("3.1.0", "/a: { post: { " + operation + " } }", "")).faults())
                .singleElement()
                .asString()
                .contains(why);
    }

    @Test
    void aPathThatNobodyFillsIsAFault() {
        assertThat(only(api("3.1.0", "'/a/{id}': { get: {} }", "")).faults())
                .containsExactly("The path names ‘id’, and no parameter gives it.");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "parameters: [{ name: s, in: cookie, schema: {} }]|‘s’ goes into a cookie",
                "parameters: [{ name: s, in: query, schema: { $ref: '#/components/schemas/Gone' } }]|‘#/components/schemas/Gone’ leads to",
                "parameters: [{ name: s, in: query, schema: { $ref: 'other.yaml#/S' } }]|‘other.yaml#/S’ leads to nothing",
                "parameters: [{ name: s, in: query, schema: { type: string, pattern: '[' } }]|‘[’ can't be used",
                "servers: [{ url: 'https://other.example' }]|The description has it at https://other.example",
                "responses: { '200': { description: x, content: { application/pdf: {} } } }|answers with application/pdf"
            })
    void whatIsLeftOutIsNoted(String operation, String what) {
        Operation read = only(api("3.1.0", "/a: { get: { " + operation + " } }", ""));
        assertThat(read.faults()).isEmpty();
        assertThat(read.notes()).singleElement().asString().contains(what);
    }

    @Test
    void aPropertyMayBeCalledLikeAKeyword() {
        Operation operation = posting(
                "3.0.3",
                "{ type: object, properties: { example: { type: string }, nullable: { type: boolean }, properties: { type: object, properties: { $ref: { type: string } } } } }",
                "");
        assertThat(violations(operation, "{\"example\":\"x\",\"nullable\":true,\"properties\":{\"$ref\":\"y\"}}"))
                .isEmpty();
        assertThat(violations(operation, "{\"nullable\":\"x\"}")).isNotEmpty();
    }

    @Test
    void anAnswerOfAnyKindOfJsonIsRead() {
        Operation operation = only(api(
                "3.1.0",
                "/a: { get: { responses: { '206': { description: x, content: { 'application/hal+json; v=1': { schema: { type: array, items:"
                        + " { type: object, properties: { secret: { type: string, writeOnly: true }, n: { type: integer } } } } } } } } } }",
                ""));
        assertThat(operation.outputs().path("items").path("properties").propertyNames())
                .containsExactly("n");
    }

    @Test
    void partOfADescriptionStandsAlone() {
        ApiDescription api = api(
                "3.1.0",
                "/a: { parameters: [{ $ref: '#/components/parameters/P' }], get: { operationId: a, responses: { '200': { $ref: '#/components/responses/R' } } } },"
                        + " /b: { get: { operationId: b } }",
                "parameters: { P: { name: p, in: query, schema: { $ref: '#/components/schemas/S' } } }, responses: { R: { description: x, content:"
                        + " { application/json: { schema: { $ref: '#/components/schemas/T' } } } } }, schemas: { S: { type: string }, T: { type: object,"
                        + " properties: { t: { $ref: '#/components/schemas/T' } } }, Unused: { type: string } }");
        ApiDescription part = new ApiDescription(api.only(Set.of("a")));
        assertThat(part.operations().keySet()).containsExactly("a");
        assertThat(part.operation("a", "depot")).isEqualTo(api.operation("a", "depot"));
        assertThat(Json.write(api.only(Set.of("a")))).doesNotContain("Unused");
    }

    @Test
    void serversAreToldWithTheirVariables() {
        assertThat(new ApiDescription(Documents.read("""
                        openapi: 3.1.0
                        servers: [{ url: "https://{place}.depot.example/v{v}", variables: { place: { default: north }, v: { default: "2" } } }]
                        paths: { /a: { get: {} } }
                        """)).servers()).containsExactly("https://north.depot.example/v2");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {"{\"a\":|isn't valid JSON", "a: ]|isn't valid YAML", "a: { b: 1, b: 2 }|isn't valid YAML"})
    void whatCantBeReadIsSaid(String text, String why) {
        assertThatThrownBy(() -> Documents.read(text))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining(why);
    }

    @Test
    void aDescriptionThatDoublesItselfEnds() {
        StringBuilder schemas = new StringBuilder("S0: { type: string }");
        for (int i = 1; i < 40; i++) {
            schemas.append(
                    ", S%d: { type: object, properties: { a: { $ref: '#/components/schemas/S%d' }, b: { $ref: '#/components/schemas/S%d' } } }"
                            .formatted(i, i - 1, i - 1));
        }
        Operation operation = posting("3.1.0", "{ $ref: '#/components/schemas/S39' }", schemas.toString());
        assertThat(Json.write(operation.inputs()).length()).isLessThan(1_000_000);
        assertThat(Schemas.fault(operation.inputs())).isEmpty();
    }

    @Test
    void aDescriptionThatRefersToItselfWithManyBranchesStaysSmall() {
        StringBuilder fields = new StringBuilder();
        for (int i = 0; i < 40; i++) {
            fields.append(i == 0 ? "" : ", ").append("f").append(i).append(": { $ref: '#/components/schemas/Self' }");
        }
        Operation operation = posting(
                "3.1.0",
                "{ $ref: '#/components/schemas/Self' }",
                "Self: { type: object, properties: { " + fields + " } }");
        assertThat(Json.write(operation.inputs()).length()).isLessThan(100_000);
    }
}
