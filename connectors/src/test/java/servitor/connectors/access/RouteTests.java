package servitor.connectors.access;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.InetAddress;
import java.net.URI;
import java.net.UnknownHostException;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Which addresses lead inside, in whatever clothes. */
class RouteTests {
    @ParameterizedTest
    @ValueSource(
            strings = {
                "127.0.0.1",
                "127.8.8.8",
                "0.0.0.0",
                "0.1.2.3",
                "10.1.2.3",
                "172.16.0.1",
                "192.168.1.1",
                "169.254.169.254",
                "100.64.0.1",
                "198.18.0.1",
                "192.0.0.8",
                "224.0.0.1",
                "240.0.0.1",
                "255.255.255.255",
                "::1",
                "::",
                "fe80::1",
                "fc00::1",
                "fd12::1",
                "::ffff:10.0.0.1",
                "::10.0.0.1",
                "64:ff9b::a00:1",
                "64:ff9b:1::a00:1",
                "2002:a00:1::",
                "2001:0:a00:1::",
                "ff02::1"
            })
    void theseLeadInside(String address) throws UnknownHostException {
        assertThat(Route.leadsInside(InetAddress.getByName(address))).isTrue();
    }

    @ParameterizedTest
    @ValueSource(strings = {"192.0.2.1", "203.0.113.9", "8.8.8.8", "100.128.0.1", "2001:db8::1", "2a00::1"})
    void theseDont(String address) throws UnknownHostException {
        assertThat(Route.leadsInside(InetAddress.getByName(address))).isFalse();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "http://127.0.0.1",
                "ldap://10.0.0.1/dc=x",
                "tcp://192.168.0.1:23",
                "ssh://[::1]:22",
                "jdbc:h2:tcp://127.0.0.1:9092/mem:pay",
                "jdbc:h2:tcp://10.0.0.1/pay"
            })
    void everyProtocolIsHeldToIt(String address) {
        assertThat(new Access(URI.create(address), new Credentials.None(), false).refused())
                .isPresent();
        assertThat(new Access(URI.create(address), new Credentials.None(), true).refused())
                .isEmpty();
    }
}
