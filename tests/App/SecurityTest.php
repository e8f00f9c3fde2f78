<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;

final class SecurityTest extends ApiTestCase
{
    public function testNobodyGetsInWithoutSigningIn(): void
    {
        foreach (['/api/trays', '/api/phones', '/api/log', '/api/standin/phones'] as $path) {
            $this->browser->request('GET', $path);
            self::assertSame(401, $this->browser->getResponse()->getStatusCode(), $path);
            self::assertSame('application/problem+json', $this->browser->getResponse()->headers->get('Content-Type'));
        }
        $this->browser->request('GET', '/trays/41/sheet');
        self::assertTrue($this->browser->getResponse()->isRedirect('/'));
    }

    public function testSigningInAndOut(): void
    {
        $this->signIn();
        self::assertSame('Jette Holm', $this->value($this->call('GET', '/api/session'), 'user', 'display_name'));
        $this->call('DELETE', '/api/session');
        self::assertNull($this->value($this->call('GET', '/api/session'), 'user'));
        $this->browser->request('GET', '/api/trays');
        self::assertSame(401, $this->browser->getResponse()->getStatusCode());
    }

    public function testAWrongPasswordSaysNothingAboutTheNameAndGuessingRests(): void
    {
        $token = $this->text($this->call('GET', '/api/session'), 'token');
        $try = function (string $name, string $password) use ($token): string {
            $this->browser->request(
                'POST', '/api/session', [], [],
                ['CONTENT_TYPE' => 'application/json', 'HTTP_X_GESCHENK_TOKEN' => $token],
                json_encode(['username' => $name, 'password' => $password], \JSON_THROW_ON_ERROR),
            );
            $data = json_decode((string) $this->browser->getResponse()->getContent(), true);
            self::assertSame(401, $this->browser->getResponse()->getStatusCode());

            return $this->text(is_array($data) ? $data : [], 'detail');
        };
        self::assertSame($try('nobody', 'x'), $try('jette', 'x'));
        for ($n = 0; $n < 4; ++$n) {
            $try('jette', 'x');
        }
        self::assertStringContainsString(
            'Wait a minute', $try('jette', 'ribbon-and-tag'), 'Even the right password rests now.',
        );
    }

    public function testEveryChangeNeedsTheToken(): void
    {
        $this->signIn();
        $this->layPhones();
        $answer = $this->call('POST', '/api/standin/phones/GIVES0001/acts', ['act' => 'unplug'], 403, false);
        self::assertStringContainsString('Reload', $this->text($answer, 'detail'));
        self::assertTrue($this->giving->state()['plugged']);
    }

    public function testOnlyTheManagerReadsTheLog(): void
    {
        $this->signIn();
        $this->call('GET', '/api/log', null, 403);
        $this->call('DELETE', '/api/session');
        $this->signIn('orla');
        $entries = $this->value($this->call('GET', '/api/log'), 'entries');
        self::assertIsArray($entries);
        self::assertContains('signed_in', array_column($entries, 'act'));
    }

    /** @return list<array{string}> */
    public static function pages(): array
    {
        return [['/'], ['/trays/41'], ['/api/session'], ['/nowhere/at/all']];
    }

    #[DataProvider('pages')]
    public function testHeadersAreStrict(string $path): void
    {
        $this->browser->request('GET', $path);
        $headers = $this->browser->getResponse()->headers;
        $policy = (string) $headers->get('Content-Security-Policy');
        self::assertStringStartsWith("default-src 'none'; script-src 'self'; ", $policy);
        self::assertStringNotContainsString('unsafe', $policy);
        self::assertStringContainsString("frame-ancestors 'none'", $policy);
        self::assertSame('nosniff', $headers->get('X-Content-Type-Options'));
    }
}
