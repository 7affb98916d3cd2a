package servitor.core.engine;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.util.LinkedHashMap;
import java.util.Map;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Effect;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Tool;

/** The engine's surroundings, broken on purpose. */
final class Mutations {
    private Mutations() {}

    /** Books that give out work whether or not somebody has it. */
    static EngineStore givingTwice(EngineStore books) {
        return lying(books, "take", true);
    }

    /** Books in which no limit has ever been used. */
    static EngineStore forgettingLimits(EngineStore books) {
        return lying(books, "alone", java.math.BigDecimal.ZERO);
    }

    /** Books that do what they should, and give a wrong answer to one question. */
    private static EngineStore lying(EngineStore books, String about, Object answer) {
        return (EngineStore) Proxy.newProxyInstance(
                EngineStore.class.getClassLoader(), new Class<?>[] {EngineStore.class}, (proxy, method, args) -> {
                    try {
                        Object given = method.invoke(books, args);
                        return method.getName().equals(about) ? answer : given;
                    } catch (InvocationTargetException e) {
                        throw e.getCause();
                    }
                });
    }

    /** The same edition, in which every tool may be repeated. */
    static Edition everythingRepeatable(Edition edition) {
        Handbook book = edition.handbook();
        Map<String, Tool> tools = new LinkedHashMap<>();
        book.tools().forEach((name, tool) -> tools.put(name, repeatable(tool)));
        return new Edition(
                edition.number(),
                new Handbook(
                        book.house(),
                        book.desks(),
                        book.groups(),
                        book.rooms(),
                        book.kinds(),
                        book.intake(),
                        book.agents(),
                        book.mandates(),
                        tools,
                        book.checks(),
                        book.runbooks(),
                        book.rehearsals()));
    }

    /** The same tool, taken for one that may be repeated. */
    static Tool repeatable(Tool tool) {
        return new Tool(
                tool.name(),
                tool.desk(),
                tool.description(),
                tool.says(),
                tool.effect() == Effect.ONCE ? Effect.WRITE : tool.effect(),
                tool.works(),
                tool.personal(),
                tool.inputs(),
                tool.outputs(),
                tool.identifies(),
                tool.speaks(),
                tool.fixed(),
                tool.conceal(),
                tool.freeText(),
                tool.ownWords(),
                tool.echoes(),
                tool.examples(),
                tool.problems(),
                tool.settleWith(),
                tool.job(),
                tool.timeLimit(),
                tool.binding(),
                tool.place());
    }
}
