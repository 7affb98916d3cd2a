package servitor.service.people;

import jakarta.servlet.DispatcherType;
import org.springframework.boot.web.servlet.FilterRegistrationBean;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.http.HttpHeaders;
import org.springframework.security.authentication.AuthenticationManager;
import org.springframework.security.config.annotation.web.builders.HttpSecurity;
import org.springframework.security.crypto.factory.PasswordEncoderFactories;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.security.web.SecurityFilterChain;
import org.springframework.security.web.context.HttpSessionSecurityContextRepository;
import org.springframework.security.web.context.SecurityContextRepository;
import org.springframework.security.web.csrf.CsrfFilter;
import servitor.service.ProblemAnswer;
import servitor.service.connections.Callbacks;

/** Who gets in: a session cookie with CSRF protection for the console, a bearer token for clients. */
@Configuration
class SecuritySetup {
    private static final String HOOKS = "/api/hooks/";
    private static final String FORMS = "/api/public/";

    @Bean
    static PasswordEncoder passwordEncoder() {
        return PasswordEncoderFactories.createDelegatingPasswordEncoder();
    }

    @Bean
    SecurityContextRepository securityContextRepository() {
        return new HttpSessionSecurityContextRepository();
    }

    /** Signing in goes through the session controller only; nothing else may authenticate by user name. */
    @Bean
    AuthenticationManager authenticationManager() {
        return authentication -> {
            throw new org.springframework.security.authentication.BadCredentialsException("sign in at /api/session");
        };
    }

    /** These belong into the chain of security alone, not beside it as well. */
    @Bean
    FilterRegistrationBean<TokenFilter> tokensOnce(TokenFilter tokens) {
        return once(tokens);
    }

    @Bean
    FilterRegistrationBean<CrowdFilter> crowdOnce(CrowdFilter crowd) {
        return once(crowd);
    }

    private static <F extends jakarta.servlet.Filter> FilterRegistrationBean<F> once(F filter) {
        FilterRegistrationBean<F> registration = new FilterRegistrationBean<>(filter);
        registration.setEnabled(false);
        return registration;
    }

    @Bean
    SecurityFilterChain chain(
            HttpSecurity http, SecurityContextRepository contexts, TokenFilter tokens, CrowdFilter crowd)
            throws Exception {
        http.csrf(csrf -> csrf.spa()
                        .ignoringRequestMatchers(request -> request.getHeader(HttpHeaders.AUTHORIZATION) != null
                                || request.getRequestURI().startsWith(Callbacks.PATH)
                                || request.getRequestURI().startsWith(HOOKS)
                                // their header, or their type of body, is something no other site's page can send
                                || request.getRequestURI().startsWith(FORMS)))
                .securityContext(context -> context.securityContextRepository(contexts))
                // before anything reads a body
                .addFilterBefore(tokens, CsrfFilter.class)
                .addFilterAfter(crowd, TokenFilter.class)
                .authorizeHttpRequests(rules -> rules
                        // the second half of a request that was let in already
                        .dispatcherTypeMatchers(DispatcherType.ASYNC)
                        .permitAll()
                        // callbacks bring a token of their own in their address, and hooks a signature; forms are for
                        // everybody
                        .requestMatchers(
                                "/api/session",
                                "/api/openapi.json",
                                "/api/manage/health",
                                Callbacks.PATH + "*",
                                HOOKS + "*",
                                FORMS + "**")
                        .permitAll()
                        .requestMatchers("/api/**")
                        .authenticated()
                        .anyRequest()
                        .permitAll())
                .headers(headers -> headers.contentSecurityPolicy(policy -> policy.policyDirectives(
                                "default-src 'self'; style-src 'self'; img-src 'self' data:; object-src 'none'; base-uri 'none'; "
                                        + "frame-ancestors 'none'; form-action 'self'"))
                        .referrerPolicy(referrer -> referrer.policy(
                                org.springframework.security.web.header.writers.ReferrerPolicyHeaderWriter
                                        .ReferrerPolicy.NO_REFERRER)))
                .exceptionHandling(errors -> errors.authenticationEntryPoint(
                                (request, response, e) -> ProblemAnswer.write(
                                        response,
                                        401,
                                        "Sign in first",
                                        "This needs a session or a token. Sign in, or set SERVITOR_TOKEN."))
                        .accessDeniedHandler((request, response, e) -> ProblemAnswer.write(
                                response,
                                403,
                                "Not allowed",
                                "The request was refused; a browser request also needs the X-XSRF-TOKEN header.")))
                .formLogin(form -> form.disable())
                .httpBasic(basic -> basic.disable())
                .logout(logout -> logout.disable())
                .requestCache(cache -> cache.disable());
        return http.build();
    }
}
