package servitor.core.handbook;

import com.code_intelligence.jazzer.api.FuzzedDataProvider;
import com.code_intelligence.jazzer.junit.FuzzTest;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import servitor.core.DemoHandbook;

/** Looks, guided by coverage, for a handbook that makes reading, checking, explaining or drawing throw. */
class HandbookFuzz {
    private static final Map<String, String> DEMO = DemoHandbook.files();

    /** One file of the demo's handbook with a part of it replaced by whatever the fuzzer comes up with. */
    @FuzzTest(maxDuration = "5m")
    void nothingThrows(FuzzedDataProvider data) {
        Map<String, String> files = new java.util.TreeMap<>(DEMO);
        List<String> paths = new ArrayList<>(files.keySet());
        String path = paths.get(data.consumeInt(0, paths.size() - 1));
        String text = files.get(path);
        int from = data.consumeInt(0, text.length());
        int to = data.consumeInt(from, text.length());
        files.put(path, text.substring(0, from) + data.consumeRemainingAsString() + text.substring(to));
        HostilePagesTests.use(files);
    }
}
