<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Demo\DemoShop;
use Geschenk\App\Http\Gate;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\BrowserKit\Cookie;
use Symfony\Component\Routing\Route;

/** All doors, by the list of all routes: what comes in by none of them without what it has to bring. */
final class DoorsTest extends ApiTestCase
{
    private const PARTS = [
        'number' => '1', 'place' => '1', 'id' => '00000000-0000-0000-0000-000000000000', 'conversation' => '1',
        'message' => '1', 'backup' => '00000000-0000-0000-0000-000000000000', 'rule' => 'expired',
        'serial' => 'GIVES0001', 'side' => 'gives', 'point' => 'order', 'kind' => 'photos', 'act' => 'pause',
        'said' => 'done', 'customer' => '1', 'stick' => 'grey-stick', 'hand' => 'put-in', 'turn' => 'on',
        'earlier' => '00000000-0000-0000-0000-000000000000',
    ];
    /** What belongs behind the hand-over. */
    private const BEHIND = ['/keeping', '/erase', '/reopen'];

    public function testWhatHasNotChangedIsToldInNoBytes(): void
    {
        $this->signIn();
        $n = $this->openTray();
        foreach (['/api/trays', "/api/trays/$n", '/api/phones'] as $path) {
            $this->browser->request('GET', $path);
            $whole = $this->browser->getResponse();
            $mark = (string) $whole->headers->get('ETag');
            self::assertNotSame('', $mark);
            $this->browser->request('GET', $path, server: ['HTTP_IF_NONE_MATCH' => $mark]);
            $again = $this->browser->getResponse();
            self::assertSame([304, ''], [$again->getStatusCode(), $again->getContent()], $path);
            self::assertTrue($again->headers->hasCacheControlDirective('no-store'), 'It is kept nowhere.');
        }
        $this->browser->request('GET', '/api/trays');
        $before = (string) $this->browser->getResponse()->headers->get('ETag');
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->browser->request('GET', '/api/trays', server: ['HTTP_IF_NONE_MATCH' => $before]);
        self::assertSame(200, $this->browser->getResponse()->getStatusCode());
        // Whoever may not ask is told so, whatever they have seen.
        $this->call('DELETE', '/api/session');
        $this->browser->request('GET', '/api/trays', server: ['HTTP_IF_NONE_MATCH' => $before]);
        self::assertSame(401, $this->browser->getResponse()->getStatusCode());
    }

    public function testEveryChangeOfEveryRouteNeedsTheTokenHoweverThePathIsWritten(): void
    {
        $this->signIn();
        $tried = 0;
        foreach ($this->changes() as [$method, $path]) {
            foreach ([$path, str_replace('/api/', '/%61pi/', $path), str_replace('a', '%61', $path)] as $written) {
                foreach ([null, '', 'x', str_repeat('a', 64)] as $token) {
                    self::assertSame(403, $this->code($method, $written, token: $token), "$method $written");
                    ++$tried;
                }
            }
        }
        self::assertGreaterThan(100, $tried);
    }

    public function testWithoutAnAccountNothingButTheSignInIsReached(): void
    {
        $token = $this->text($this->call('GET', '/api/session'), 'token');
        foreach ($this->routes() as [$method, $path]) {
            if (str_starts_with($path, '/api/') && '/api/session' !== $path) {
                self::assertContains($this->code($method, $path, token: $token), [401, 403], "$method $path");
            }
        }
    }

    public function testOnlyTheManagerGetsWhatIsTheManagers(): void
    {
        $refused = [];
        $this->signIn();
        foreach ($this->routes() as [$method, $path]) {
            // Whatever else is wrong with it: these are not the technician's, however their path is written.
            $written = [$path, str_replace('a', '%61', $path), str_replace(['g', 'u'], ['%67', '%75'], $path)];
            $codes = [];
            foreach (str_starts_with($path, '/api/session') ? [] : $written as $one) {
                $codes[] = $this->code($method, $one, token: $this->token);
            }
            if (in_array(403, $codes, true)) {
                self::assertSame([403, 403, 403], $codes, "$method $path");
                $refused[] = [$method, $path];
            }
        }
        self::assertEqualsCanonicalizing([
            ['POST', '/api/clock/confirm'], ['GET', '/api/log'], ['GET', '/api/users'], ['POST', '/api/users'],
            ['GET', '/api/figures'], ['GET', '/api/figures.csv'],
            ['PUT', '/api/users/x'], ['PUT', '/api/users/x/password'], ['DELETE', '/api/users/x/sessions/1'],
            ['POST', '/api/second-place/leave'],
        ], $refused);
        $this->signIn('orla');
        foreach ($refused as [$method, $path]) {
            self::assertNotContains($this->code($method, $path, token: $this->token), [401, 403, 500], "$method $path");
        }
    }

    public function testNothingOfAClosedTrayIsChanged(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $run = $this->text($this->call('GET', "/api/trays/$n"), 'moves', 0, 'run', 'id');
        $this->handOver($n);
        $before = $this->records();
        $tried = 0;
        foreach (['jette', 'orla'] as $who) {
            $this->signIn($who);
            foreach ($this->changes() as [$method, $path]) {
                $isBehind = in_array(substr($path, (int) strrpos($path, '/')), self::BEHIND, true);
                if (!str_starts_with($path, '/api/trays/1/') || str_ends_with($path, '/uncovered') || $isBehind) {
                    continue;
                }
                $path = str_replace(['/trays/1/', self::PARTS['id']], ["/trays/$n/", $run], $path);
                foreach ($this->bodies($path, $n) as $body) {
                    $this->call($method, $path, $body, 422);
                    ++$tried;
                }
            }
        }
        self::assertGreaterThan(15, $tried);
        self::assertSame($before, $this->records());
    }

    public function testWhatIsOfAnotherTrayIsNotReachedThroughThisOne(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $run = $this->text($this->call('GET', "/api/trays/$n"), 'moves', 0, 'run', 'id');
        $other = self::getContainer()->get(EntityManagerInterface::class)->getConnection();
        $other->executeStatement('UPDATE tray_phone SET held = 0');
        $next = $this->openTray();
        $this->watch();
        $before = $this->records();
        foreach (['go-on', 'pause', 'cancel'] as $act) {
            $this->call('POST', "/api/trays/$next/moves/1/runs/$run/$act", [], 422);
        }
        $this->call('PUT', "/api/trays/$next/roles", ['giving_tag' => "$n-B"], 422);
        $chats = "{$this->backupPath($next)}/conversations";
        foreach ([['GET', $chats], ['GET', "$chats/1/messages"], ['PUT', "$chats/1/uncovered"]] as [$method, $path]) {
            self::assertSame(404, $this->code($method, $path, token: $this->token), "$method $path");
        }
        self::assertSame($before, $this->records());
    }

    /** @return iterable<string, array{array<string, string>, int}> headers, status */
    public static function senders(): iterable
    {
        yield 'the page itself' => [['HTTP_ORIGIN' => 'http://localhost', 'HTTP_SEC_FETCH_SITE' => 'same-origin'], 200];
        yield 'no browser' => [[], 200];
        yield 'another port' => [['HTTP_ORIGIN' => 'http://localhost:8199'], 403];
        yield 'another port, as browsers judge it' => [['HTTP_SEC_FETCH_SITE' => 'same-site'], 403];
        yield 'another site' => [['HTTP_ORIGIN' => 'https://evil.example'], 403];
        yield 'nowhere' => [['HTTP_ORIGIN' => 'null'], 403];
        yield 'by way of another site' => [['HTTP_SEC_FETCH_SITE' => 'cross-site'], 403];
        yield 'a form' => [['CONTENT_TYPE' => 'text/plain'], 415];
        yield 'a form of another kind' => [['CONTENT_TYPE' => 'application/x-www-form-urlencoded'], 415];
        yield 'a long body' => [['HTTP_CONTENT_LENGTH' => '300000'], 413];
        yield 'a body of any length' => [['HTTP_TRANSFER_ENCODING' => 'chunked'], 411];
        yield 'a length that is none' => [['HTTP_CONTENT_LENGTH' => '-1'], 411];
        yield 'another name' => [['HTTP_HOST' => 'evil.example'], 421];
        yield 'a name that begins like ours' => [['HTTP_HOST' => 'localhost.evil.example'], 421];
    }

    /** @param array<string, string> $headers */
    #[DataProvider('senders')]
    public function testAChangeComesFromThePageItself(array $headers, int $status): void
    {
        $this->signIn();
        self::assertSame($status, $this->code('PUT', '/api/session/language', $headers, $this->token));
        self::assertStringNotContainsString('evil', (string) $this->browser->getResponse());
    }

    public function testItIsFoundByTheNamesOfItsComputer(): void
    {
        foreach (['127.0.0.1:8041', 'localhost', '[::1]:8041'] as $name) {
            self::assertSame(200, $this->code('GET', '/api/session', ['HTTP_HOST' => $name]), $name);
        }
        foreach (['evil.example', 'localhost.evil.example', '127.0.0.1.evil.example', '[::2]'] as $name) {
            self::assertSame(421, $this->code('GET', '/trays/43/sheet/', ['HTTP_HOST' => $name]), $name);
            self::assertStringNotContainsString('evil', (string) $this->browser->getResponse());
        }
    }

    public function testASignInIsNoQuestion(): void
    {
        $this->browser->request('GET', '/api/session', [], [], ['CONTENT_TYPE' => 'application/json'], json_encode(
            ['username' => 'jette', 'password' => DemoShop::USERS['jette'][2]], \JSON_THROW_ON_ERROR,
        ));
        self::assertSame(200, $this->browser->getResponse()->getStatusCode());
        self::assertNull($this->value($this->call('GET', '/api/session'), 'user'));
    }

    public function testAMethodIsWhatItIs(): void
    {
        $this->signIn();
        $this->browser->request('POST', '/api/session', [], [], [
            'HTTP_X_HTTP_METHOD_OVERRIDE' => 'DELETE', 'HTTP_X_GESCHENK_TOKEN' => $this->token,
            'CONTENT_TYPE' => 'application/json',
        ], '{"username":"jette","password":"wrong"}');
        self::assertSame(401, $this->browser->getResponse()->getStatusCode(), 'a sign-in, and a wrong one');
        self::assertSame('Jette Holm', $this->value($this->call('GET', '/api/session'), 'user', 'display_name'));
    }

    /** @return iterable<array{string, int}> */
    public static function addresses(): iterable
    {
        yield ['/', 200];
        yield ['/trays/new', 200];
        yield ['/trays/41', 200];
        yield ['/trays/41/accounts/2/check', 200];
        yield ['/stand-in', 200];
        yield ['/log', 200];
        yield ['/users', 200];
        yield ['/bench', 200];
        yield ['/cupboard', 200];
        yield ['/cupboard/'.str_repeat('0', 36), 200];
        yield ['/cupboard/x', 404];
        yield ['/customers/1', 200];
        yield ['/wall', 200];
        yield ['/nowhere/at/all', 404];
        yield ['/build/.vite/manifest.json', 404];
        yield ['/api/nowhere', 404];
        yield ['/api/trays/99999999999999999999', 404];
        yield ['/api/backups/'.str_repeat('0', 36).'/conversations/99999999999999999999/messages', 404];
        yield ['/api/backups/'.str_repeat('0', 36).'/conversations', 404];
        yield ['/api/backups/../trays', 404];
    }

    #[DataProvider('addresses')]
    public function testAnAddressThatNamesNothingSaysSo(string $path, int $status): void
    {
        $this->signIn();
        self::assertSame($status, $this->code('GET', $path));
    }

    public function testWhoIsNotSignedInLeavesNoSession(): void
    {
        foreach (['/api/session', '/', '/api/trays'] as $path) {
            $this->browser->request('GET', $path);
            self::assertSame([], $this->browser->getResponse()->headers->getCookies(), $path);
        }
    }

    /** @return list<array<string, mixed>> what a change of an open tray would bring */
    private function bodies(string $path, int $n): array
    {
        return match (true) {
            str_ends_with($path, '/roles') => [['giving_tag' => "$n-B"]],
            str_ends_with($path, '/runs') => [
                ['kind' => 'backup'], ['kind' => 'conversion'], ['kind' => 'check'],
                ['kind' => 'restore', 'confirmed_tag' => "$n-B"],
            ],
            str_contains($path, '/choices/') => [['choice' => 'left_out'], ['choice' => 'as_notice']],
            str_ends_with($path, '/moves/1') => [['left_out' => true]],
            default => [[]],
        };
    }

    /** All that is known of trays; what is logged is another matter. */
    private function records(): string
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $rows = [];
        foreach (['tray', 'tray_phone', 'move', 'run', 'backup', 'step', 'arrival_check'] as $table) {
            $rows[$table] = $entities->getConnection()->fetchAllAssociative("SELECT * FROM $table ORDER BY 1");
        }

        return json_encode($rows, \JSON_THROW_ON_ERROR | \JSON_PRETTY_PRINT);
    }

    public function testASessionThatNobodyBeganIsNotEvenBegun(): void
    {
        foreach (['/api/session', '/', '/api/trays'] as $path) {
            $this->browser->getCookieJar()->set(new Cookie('MOCKSESSID', bin2hex(random_bytes(16))));
            $this->browser->request('GET', $path);
            self::assertFalse($this->browser->getRequest()->getSession()->isStarted(), $path);
        }
    }

    /** @return list<array{string, string}> method and path */
    private function routes(): array
    {
        $routes = [];
        foreach (self::getContainer()->get('router')->getRouteCollection() as $route) {
            self::assertInstanceOf(Route::class, $route);
            $path = (string) preg_replace_callback(
                '/\{(\w+)\}/', static fn (array $part): string => self::PARTS[$part[1]] ?? 'x', $route->getPath(),
            );
            $path = (string) preg_replace('#/runs/1/#', '/runs/'.self::PARTS['id'].'/', $path);
            // An uncovering is named by its own digits.
            $path = (string) preg_replace('#/uncoverings/[0-9a-f-]{36}#', '/uncoverings/'.str_repeat('0', 32), $path);
            // A conversation is named by a number, a run is not.
            $path = (string) preg_replace('#/conversations/[0-9a-f-]{36}#', '/conversations/1', $path);
            foreach ($route->getMethods() as $method) {
                $routes[] = [$method, $path];
            }
        }

        return $routes;
    }

    /** @return list<array{string, string}> */
    private function changes(): array
    {
        return array_values(array_filter($this->routes(), static fn (array $route): bool => 'GET' !== $route[0]));
    }

    /** @param array<string, string> $headers */
    private function code(string $method, string $path, array $headers = [], ?string $token = null): int
    {
        $this->browser->request($method, $path, [], [], $headers + [
            'CONTENT_TYPE' => 'application/json',
            ...(null === $token ? [] : ['HTTP_'.strtoupper(str_replace('-', '_', Gate::TOKEN_HEADER)) => $token]),
        ], 'GET' === $method ? null : '{"language":"en"}');

        return $this->browser->getResponse()->getStatusCode();
    }
}
