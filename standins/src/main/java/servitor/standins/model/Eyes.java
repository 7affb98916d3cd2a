package servitor.standins.model;

import java.awt.Color;
import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.Base64;
import java.util.HashMap;
import java.util.Map;
import javax.imageio.ImageIO;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** What the model stand-in sees of a picture: which colour there is most of, the edges aside. */
final class Eyes {
    private static final String PNG = "data:image/png;base64,";

    private final @Nullable String colour;

    /** Looks at the first picture of what a model is asked. */
    Eyes(JsonNode body) {
        this.colour = colour(body);
    }

    private static @Nullable String colour(JsonNode body) {
        for (JsonNode message : body.path("messages")) {
            for (JsonNode part : message.path("content")) {
                String url = part.path("image_url").path("url").asString("");
                if (url.startsWith(PNG)) {
                    return most(Base64.getDecoder().decode(url.substring(PNG.length())));
                }
            }
        }
        return null;
    }

    private static @Nullable String most(byte[] png) {
        try {
            BufferedImage image = ImageIO.read(new ByteArrayInputStream(png));
            Map<String, Integer> dots = new HashMap<>();
            int step = Math.max(1, Math.min(image.getWidth(), image.getHeight()) / 60);
            for (int x = image.getWidth() / 5; x < image.getWidth() * 4 / 5; x += step) {
                for (int y = image.getHeight() / 5; y < image.getHeight() * 4 / 5; y += step) {
                    dots.merge(named(image.getRGB(x, y)), 1, Integer::sum);
                }
            }
            return dots.entrySet().stream()
                    .max(Map.Entry.comparingByValue())
                    .map(Map.Entry::getKey)
                    .orElse(null);
        } catch (IOException e) {
            return null;
        }
    }

    private static String named(int dot) {
        float[] tone = Color.RGBtoHSB(dot >> 16 & 0xff, dot >> 8 & 0xff, dot & 0xff, null);
        if (tone[2] < 0.2) {
            return "black";
        } else if (tone[1] < 0.15) {
            return tone[2] > 0.85 ? "white" : "grey";
        }
        int hue = Math.round(tone[0] * 360);
        return hue < 20 || hue > 330 ? "red" : hue < 70 ? "yellow" : hue < 170 ? "green" : "blue";
    }

    /** The values a schema asks for, as far as a colour answers them. */
    ObjectNode find(JsonNode schema) {
        ObjectNode answer = Asked.JSON.createObjectNode();
        schema.path("properties").properties().forEach(e -> {
            if (e.getValue().path("properties").has("words")) {
                JsonNode type = e.getValue()
                        .path("properties")
                        .path("value")
                        .path("anyOf")
                        .path(0);
                boolean fits = colour != null
                        && (type.has("enum")
                                ? type.path("enum").toString().contains("\"" + colour + "\"")
                                : e.getKey().contains("colour"));
                ObjectNode found = answer.putObject(e.getKey()).put("page", 1).put("words", "");
                if (fits) {
                    found.put("value", colour);
                } else {
                    found.putNull("value");
                }
            }
        });
        return answer.put("reason", "A stand-in counts the dots of each colour; it sees nothing else.")
                .put("sure", 0.6);
    }
}
