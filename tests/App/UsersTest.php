<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Demo\DemoShop;
use Geschenk\App\Entity\LogEntry;
use Geschenk\App\Entity\User;
use Geschenk\App\Refusal;
use Geschenk\App\Security\Passwords;
use Geschenk\Tests\Support\Console;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\BrowserKit\Cookie;

/** A shop makes its own users. */
final class UsersTest extends ApiTestCase
{
    use Scratch;

    /** @return iterable<array{string, string|null}> password, code of what is wrong with it */
    public static function passwords(): iterable
    {
        yield ['', 'password_length'];
        yield ['short', 'password_length'];
        yield ['elevenchars', 'password_length'];
        yield [str_repeat('long ', 50), 'password_length'];
        yield ['passwordpassword', 'password_common'];
        yield ['Password2026!!', 'password_common'];
        yield ['qwertzuiop12', 'password_common'];
        yield ['aaaaaaaaaaaa', 'password_common'];
        yield ['123412341234', 'password_common'];
        yield ['ada-ada-ada-ada', 'password_common'];
        yield ['ada.lovelace', 'password_common'];
        yield ['the heron waits for low tide', null];
        yield ['Der Reiher wartet auf Ebbe', null];
        yield ['vB7-tq.Lw2_xPz', null];
    }

    #[DataProvider('passwords')]
    public function testAPasswordIsLongAndNotOneThatIsTriedFirst(string $password, ?string $wrong): void
    {
        $user = new User('ada', 'Ada', User::TECHNICIAN);
        try {
            self::getContainer()->get(Passwords::class)->give($user, $password);
            self::assertNull($wrong, $password);
            self::assertTrue(password_verify($password, $user->getPassword()));
        } catch (Refusal $refusal) {
            self::assertSame($wrong, $refusal->reason, $password);
            self::assertSame('', $user->getPassword());
        }
    }

    public function testWhoLeavesIsOutAtOnceAndSignsInNoMore(): void
    {
        $this->signIn();
        $this->change(static fn (User $user) => $user->disable(true));
        self::assertNull($this->value($this->call('GET', '/api/session'), 'user'));
        $this->browser->request('GET', '/api/trays');
        self::assertSame(401, $this->browser->getResponse()->getStatusCode());

        $token = $this->text($this->call('GET', '/api/session'), 'token');
        $answers = [];
        foreach ([DemoShop::USERS['jette'][2], 'wrong'] as $password) {
            $this->browser->request('POST', '/api/session', [], [], [
                'CONTENT_TYPE' => 'application/json', 'HTTP_X_GESCHENK_TOKEN' => $token,
            ], json_encode(['username' => 'jette', 'password' => $password], \JSON_THROW_ON_ERROR));
            $answers[] = [
                $this->browser->getResponse()->getStatusCode(), $this->browser->getResponse()->getContent(),
            ];
        }
        self::assertSame($answers[0], $answers[1], 'the right password tells nothing either');

        $this->change(static fn (User $user) => $user->disable(false));
        $this->signIn();
    }

    public function testAnotherPasswordEndsAllSessions(): void
    {
        $this->signIn();
        $passwords = self::getContainer()->get(Passwords::class);
        $this->change(static fn (User $user) => $passwords->give($user, 'the heron waits for low tide'));
        self::assertNull($this->value($this->call('GET', '/api/session'), 'user'));
        $this->signIn('jette', 'the heron waits for low tide');
    }

    public function testAUserChangesTheirOwnPasswordAndNobodyElseDoes(): void
    {
        $this->signIn();
        $ask = fn (string $now, string $another, int $status): array => $this->call(
            'PUT', '/api/session/password', ['password' => $now, 'another' => $another], $status,
        );
        $own = DemoShop::USERS['jette'][2];
        self::assertStringContainsString(
            'not your password', $this->text($ask('guess', 'the heron waits for low tide', 422), 'detail'),
        );
        self::assertStringContainsString('12', $this->text($ask($own, 'short', 422), 'detail'));
        self::assertNotNull($this->value($this->call('GET', '/api/session'), 'user'));
        self::assertNull($ask($own, 'the heron waits for low tide', 200)['user']);
        self::assertNull($this->value($this->call('GET', '/api/session'), 'user'));
        $this->signIn('jette', 'the heron waits for low tide');
        for ($n = 0; $n < 8; ++$n) {
            $told = $this->text($ask("guess $n", 'the heron waits for high tide', 422), 'detail');
        }
        self::assertStringContainsString('Wait a minute', $told ?? '');
    }

    public function testTheManagerAddsAUserAndGivesThemAnotherPassword(): void
    {
        $this->signIn('orla');
        $own = DemoShop::USERS['orla'][2];
        $ada = ['name' => 'ada', 'display_name' => 'Ada <b>L</b>', 'role' => 'technician'];
        $add = fn (string $password, string $own, int $status): array => $this->call(
            'POST', '/api/users', $ada + ['password' => $password, 'own_password' => $own], $status,
        );
        self::assertStringContainsString('your password', $this->text($add('the heron waits', 'guess', 422), 'detail'));
        self::assertStringContainsString('12', $this->text($add('short', $own, 422), 'detail'));
        $users = $add('the heron waits for low tide', $own, 201)['users'];
        self::assertIsArray($users);
        self::assertSame(['ada', 'jette', 'orla'], array_column($users, 'name'));
        self::assertSame('Ada <b>L</b>', $this->value($users, 0, 'display_name'));
        $again = $add('the heron waits for low tide', $own, 422);
        self::assertStringContainsString('already', $this->text($again, 'detail'));
        foreach (['../ada', 'Ada', 'bench', ''] as $name) {
            $asked = ['name' => $name, 'password' => 'the heron waits for low tide', 'own_password' => $own];
            $this->call('POST', '/api/users', $asked + $ada, 422);
        }
        $told = ['password' => 'and the tern does not, as ever', 'own_password' => 'guess'];
        $this->call('PUT', '/api/users/ada/password', $told, 422);
        $this->call('PUT', '/api/users/ada/password', ['own_password' => $own] + $told);
        $this->call('PUT', '/api/users/nobody/password', ['own_password' => $own] + $told, 422);

        $this->signIn('ada', 'and the tern does not, as ever');
        $this->call('GET', '/api/users', null, 403);
        $acts = ['user_added', 'user_password'];
        self::assertSame(array_map(static fn (string $act): array => [$act, 'orla'], $acts), $this->logged('user'));
    }

    public function testSessionsAreListedAndEndedOneByOne(): void
    {
        $this->signIn();
        $session = $this->cookies();
        $this->signOutHere();
        $this->signIn('orla');
        $listed = $this->sessionsOf('jette');
        self::assertSame([['127.0.0.1', false]], array_map(
            static fn (array $s): array => [$s['address'], $s['own']], $listed,
        ));
        self::assertSame([true], array_column($this->sessionsOf('orla'), 'own'));
        $number = $listed[0]['number'];
        self::assertIsInt($number);
        $this->call('DELETE', "/api/users/orla/sessions/$number", null, 422);
        $this->call('DELETE', "/api/users/jette/sessions/$number");
        $this->call('DELETE', "/api/users/jette/sessions/$number", null, 422);
        self::assertSame([], $this->sessionsOf('jette'));
        self::assertSame([['session_ended', 'orla']], $this->logged('session'));

        $this->restore($session);
        self::assertNull($this->value($this->call('GET', '/api/session'), 'user'), 'ended, though its cookie is here');
    }

    public function testAUserEndsTheirOwnSessionElsewhereAndNoOther(): void
    {
        $this->signIn('orla');
        $ofOrla = $this->value($this->call('GET', '/api/session/others'), 'sessions', 0, 'number');
        $this->signOutHere();
        $this->signIn();
        $elsewhere = $this->cookies();
        $this->signOutHere();
        $this->signIn();
        $sessions = $this->call('GET', '/api/session/others')['sessions'];
        self::assertIsArray($sessions);
        self::assertSame([true, false], array_column($sessions, 'own'), 'the newest first');
        self::assertIsInt($ofOrla);
        $this->call('DELETE', "/api/session/others/$ofOrla", null, 422);
        $number = $this->value($sessions, 1, 'number');
        self::assertIsInt($number);
        $left = $this->call('DELETE', "/api/session/others/$number")['sessions'];
        self::assertIsArray($left);
        self::assertSame([true], array_column($left, 'own'));
        $this->restore($elsewhere);
        self::assertNull($this->value($this->call('GET', '/api/session'), 'user'));
    }

    public function testWhoSignsInOverASessionEndsIt(): void
    {
        $this->signIn();
        $this->signIn();
        $session = $this->call('GET', '/api/session/others')['sessions'];
        self::assertIsArray($session);
        self::assertCount(1, $session, 'their own');
        $this->signIn('orla');
        self::assertSame([], $this->sessionsOf('jette'), 'another’s');
        self::assertCount(1, $this->sessionsOf('orla'));
    }

    public function testAnEndedSessionLeavesNothingToTheSignInAfterIt(): void
    {
        $this->signIn();
        $session = $this->browser->getRequest()->getSession();
        $session->set('something', 'of hers');
        $session->save();
        $id = $session->getId();
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $entities->getConnection()->executeStatement('DELETE FROM sign_in');
        $entities->clear();
        $this->signIn();
        self::assertNotSame($id, $this->browser->getRequest()->getSession()->getId());
        self::assertFalse($this->browser->getRequest()->getSession()->has('something'));
    }

    public function testWhoSignsOutIsListedNoMore(): void
    {
        $this->signIn();
        $this->call('DELETE', '/api/session');
        $this->signIn('orla');
        self::assertSame([], $this->sessionsOf('jette'));
    }

    public function testTheManagerShowsSomebodyOutAndNeverThemself(): void
    {
        $this->signIn();
        $session = $this->cookies();
        $this->signOutHere();
        $this->signIn('orla');
        self::assertStringContainsString('yourself', $this->text(
            $this->call('PUT', '/api/users/orla', ['disabled' => true], 422), 'detail',
        ));
        $this->call('PUT', '/api/users/jette', ['disabled' => true]);
        $this->call('PUT', '/api/users/jette', ['disabled' => true]);
        self::assertSame([['user_disabled', 'orla']], $this->logged('user'));
        self::assertSame([], $this->sessionsOf('jette'));
        $orla = $this->cookies();
        $this->restore($session);
        self::assertNull($this->value($this->call('GET', '/api/session'), 'user'));
        $this->restore($orla);
        $this->call('PUT', '/api/users/jette', ['disabled' => false]);
        $this->restore($session);
        self::assertNull($this->value($this->call('GET', '/api/session'), 'user'), 'what ended stays ended');
        $this->signIn();
    }

    public function testTheCommandAddsChangesAndDisablesAndTheLogSaysSo(): void
    {
        $this->console('', 0, 'doctrine:migrations:migrate', '--no-interaction');
        $good = "the heron waits for low tide\n";
        self::assertStringContainsString('may sign in', $this->console($good, 0, 'user', 'add', 'ada', '--manager'));
        self::assertStringContainsString('already', $this->console($good, 2, 'user', 'add', 'ada'));
        self::assertStringContainsString('12', $this->console("short\n", 2, 'user', 'add', 'bo'));
        self::assertStringContainsString('small letter', $this->console($good, 2, 'user', 'add', '../bo'));
        self::assertStringContainsString('no user', $this->console($good, 2, 'user', 'password', 'bo'));
        $this->console("and the tern does not, as ever\n", 0, 'user', 'password', 'ada');
        $this->console('', 0, 'user', 'disable', 'ada');
        self::assertStringContainsString('Say add', $this->console('', 2, 'user', 'shoo', 'ada'));

        $database = new \SQLite3($this->path('shop.sqlite'));
        $row = $database->querySingle('SELECT role, disabled, password FROM shop_user', true);
        self::assertIsArray($row);
        self::assertSame(['manager', 1], [$row['role'], $row['disabled']]);
        self::assertIsString($row['password']);
        self::assertTrue(password_verify('and the tern does not, as ever', $row['password']));
        self::assertSame(
            'user_added user_password user_disabled',
            $database->querySingle("SELECT group_concat(act, ' ') FROM (SELECT act FROM log_entry ORDER BY id)"),
        );
        $this->console('', 0, 'log:verify');
    }

    /** @return list<array<array-key, mixed>> */
    private function sessionsOf(string $name): array
    {
        foreach ((array) $this->call('GET', '/api/users')['users'] as $user) {
            if (is_array($user) && $name === $user['name']) {
                self::assertIsArray($user['sessions']);

                return array_values(array_filter($user['sessions'], is_array(...)));
            }
        }
        self::fail("$name is not listed.");
    }

    /** @return list<array{string, string}> what was done and by whom */
    private function logged(string $begin): array
    {
        $entries = self::getContainer()->get(EntityManagerInterface::class)->getRepository(LogEntry::class)
            ->findBy([], ['id' => 'ASC']);
        $entries = array_filter($entries, static fn (LogEntry $e): bool => str_starts_with($e->act, $begin));

        return array_values(array_map(static fn (LogEntry $e): array => [$e->act, $e->by], $entries));
    }

    /** @return list<Cookie> of the browser that is signed in now */
    private function cookies(): array
    {
        return array_values($this->browser->getCookieJar()->all());
    }

    /** @param list<Cookie> $cookies */
    private function restore(array $cookies): void
    {
        $this->signOutHere();
        foreach ($cookies as $cookie) {
            $this->browser->getCookieJar()->set($cookie);
        }
    }

    /** Another browser from here on: the session of the one before goes on. */
    private function signOutHere(): void
    {
        $this->browser->getCookieJar()->clear();
    }

    /** @param callable(User): mixed $change */
    private function change(callable $change): void
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $entities->clear();
        $change($entities->getRepository(User::class)->findOneBy(['username' => 'jette']) ?? self::fail());
        $entities->flush();
        $entities->clear();
    }

    private function console(string $typed, int $code, string ...$words): string
    {
        [$found, $said] = Console::run($this->path(), array_values($words), $typed);
        self::assertSame($code, $found, $said);
        self::assertStringNotContainsString('heron', $said);

        return $said;
    }
}
