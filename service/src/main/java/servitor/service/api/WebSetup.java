package servitor.service.api;

import java.time.Duration;
import java.util.List;
import org.apache.catalina.core.StandardHost;
import org.jspecify.annotations.Nullable;
import org.springframework.boot.tomcat.servlet.TomcatServletWebServerFactory;
import org.springframework.boot.web.server.WebServerFactoryCustomizer;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.core.MethodParameter;
import org.springframework.http.CacheControl;
import org.springframework.http.HttpHeaders;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.web.bind.support.WebDataBinderFactory;
import org.springframework.web.context.request.NativeWebRequest;
import org.springframework.web.method.support.HandlerMethodArgumentResolver;
import org.springframework.web.method.support.ModelAndViewContainer;
import org.springframework.web.servlet.config.annotation.ResourceHandlerRegistry;
import org.springframework.web.servlet.config.annotation.ViewControllerRegistry;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;
import servitor.core.approval.Via;
import servitor.service.Precondition;
import servitor.service.connections.BrowserSignIns;
import servitor.service.people.NotAllowed;
import servitor.service.people.People;
import servitor.service.people.Person;
import servitor.service.people.SignedIn;

/** Hands controllers the {@link Person} who asks, and serves the console's pages under their deep links. */
@Configuration
class WebSetup implements WebMvcConfigurer {
    private static final List<String> PLACES = List.of(
            "/",
            "/today",
            "/cases",
            "/cases/{id}",
            "/cases/{id}/documents/{document}",
            "/runs",
            "/approvals",
            "/approvals/{id}",
            "/agents",
            "/agents/{name}",
            "/agreement",
            "/could-do",
            "/intake",
            "/connections",
            BrowserSignIns.PATH,
            "/handbook",
            "/handbook/{file}",
            "/handbook/rehearsals/{name}",
            "/handbook/tries/{id}",
            "/handbook/consents/{digest}",
            "/handbook/look-back/{id}",
            "/ask",
            "/form/{kind}");

    private final People people;

    WebSetup(People people) {
        this.people = people;
    }

    /** Has the web server speak HTTP with a limit for slow headers, and tell its own errors as this service does. */
    @Bean
    static WebServerFactoryCustomizer<TomcatServletWebServerFactory> timedHeaders() {
        return server -> {
            server.setProtocol(TimedHeaders.class.getName());
            server.addContextCustomizers(context ->
                    ((StandardHost) context.getParent()).setErrorReportValveClass(ProblemValve.class.getName()));
        };
    }

    @Override
    public void addArgumentResolvers(List<HandlerMethodArgumentResolver> resolvers) {
        resolvers.add(new PersonArgument());
        resolvers.add(new PreconditionArgument());
        resolvers.add(new ViaArgument());
    }

    @Override
    public void addViewControllers(ViewControllerRegistry registry) {
        PLACES.forEach(place -> registry.addViewController(place).setViewName("forward:/index.html"));
    }

    /** What the console's build names by its content never changes. */
    @Override
    public void addResourceHandlers(ResourceHandlerRegistry registry) {
        registry.addResourceHandler("/assets/**")
                .addResourceLocations("classpath:/static/assets/")
                .setCacheControl(
                        CacheControl.maxAge(Duration.ofDays(365)).cachePublic().immutable());
    }

    /** What a method of a controller is handed for each parameter of one type. */
    private abstract static class Argument implements HandlerMethodArgumentResolver {
        private final Class<?> type;

        Argument(Class<?> type) {
            this.type = type;
        }

        @Override
        public boolean supportsParameter(MethodParameter parameter) {
            return parameter.getParameterType().equals(type);
        }
    }

    private static final class PreconditionArgument extends Argument {
        PreconditionArgument() {
            super(Precondition.class);
        }

        @Override
        public Object resolveArgument(
                MethodParameter parameter,
                @Nullable ModelAndViewContainer container,
                NativeWebRequest request,
                @Nullable WebDataBinderFactory binder) {
            return new Precondition(
                    request.getHeader(HttpHeaders.IF_MATCH), request.getHeader(HttpHeaders.IF_NONE_MATCH));
        }
    }

    /** Which way somebody comes who is signed in: browsers have a session, programs a token. */
    private static final class ViaArgument extends Argument {
        ViaArgument() {
            super(Via.class);
        }

        @Override
        public Object resolveArgument(
                MethodParameter parameter,
                @Nullable ModelAndViewContainer container,
                NativeWebRequest request,
                @Nullable WebDataBinderFactory binder) {
            if (request.getHeader(HttpHeaders.AUTHORIZATION) == null) {
                return Via.CONSOLE;
            }
            return "servitor-command-line".equals(request.getHeader(HttpHeaders.USER_AGENT))
                    ? Via.COMMAND_LINE
                    : Via.API;
        }
    }

    private final class PersonArgument extends Argument {
        PersonArgument() {
            super(Person.class);
        }

        @Override
        public Object resolveArgument(
                MethodParameter parameter,
                @Nullable ModelAndViewContainer container,
                NativeWebRequest request,
                @Nullable WebDataBinderFactory binder) {
            Authentication authentication = SecurityContextHolder.getContext().getAuthentication();
            if (!(authentication instanceof SignedIn signedIn)) {
                throw new NotAllowed("Sign in first.");
            }
            return people.find(signedIn.getPrincipal())
                    .filter(Person::enabled)
                    .orElseThrow(() -> new NotAllowed("There is no such person any more."));
        }
    }
}
