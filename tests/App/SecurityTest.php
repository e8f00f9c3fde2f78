<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Demo\DemoShop;
use Geschenk\App\Entity\LogEntry;
use Geschenk\App\Security\SignInAttempts;
use Geschenk\App\Security\SignIns;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\Clock\Clock;
use Symfony\Component\Clock\ClockInterface;
use Symfony\Component\Clock\MockClock;

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

    public function testAGuessIsCountedByItsNameHoweverItIsWrittenDown(): void
    {
        $token = $this->text($this->call('GET', '/api/session'), 'token');
        $told = [];
        for ($n = 0; $n < 8; ++$n) {
            $this->guess($token, '{"username":"Jette","password":"x'.$n.'","a":[[[[[1]]]]]}');
            $told[] = $this->text($this->answered(), 'detail');
        }
        self::assertSame(['Name' => 5, 'Too ' => 3], array_count_values(array_map(
            static fn (string $detail): string => substr($detail, 0, 4), $told,
        )));
    }

    public function testNobodyAtAnotherAddressIsKeptOut(): void
    {
        $token = $this->text($this->call('GET', '/api/session'), 'token');
        for ($n = 0; $n < 40; ++$n) {
            $this->guess($token, '{"username":"jette","password":"x"}', '203.0.113.7');
        }
        $this->guess($token, json_encode(
            ['username' => 'jette', 'password' => DemoShop::USERS['jette'][2]], \JSON_THROW_ON_ERROR,
        ), '203.0.113.8');
        self::assertSame(200, $this->browser->getResponse()->getStatusCode());
    }

    public function testANameThatIsTriedFromEverywhereIsLookedAtSlowlyAndItsOwnerIsLetIn(): void
    {
        $clock = $this->clock();
        $token = $this->text($this->call('GET', '/api/session'), 'token');
        $right = json_encode(
            ['username' => 'jette', 'password' => DemoShop::USERS['jette'][2]], \JSON_THROW_ON_ERROR,
        );
        $waits = [];
        foreach (['jette', 'nobody'] as $name) {
            $begun = $clock->now();
            for ($n = 0; $n < SignInAttempts::AT_ONCE; ++$n) {
                $this->guess($token, '{"username":"'.$name.'","password":"x"}', "203.0.113.$n");
            }
            self::assertEquals($begun, $clock->now());
            $this->guess($token, '{"username":"'.$name.'","password":"x"}', '198.51.100.1');
            self::assertSame(401, $this->browser->getResponse()->getStatusCode());
            $waits[] = $clock->now()->getTimestamp() - $begun->getTimestamp();
        }
        self::assertSame([1, 1], $waits, 'Whether anybody of that name works here is not told by it.');
        $this->guess($token, $right, '198.51.100.2');
        self::assertSame(200, $this->browser->getResponse()->getStatusCode());
    }

    public function testWhatIsRefusedDoesNotMakeTheMinuteLonger(): void
    {
        $clock = $this->clock();
        $token = $this->text($this->call('GET', '/api/session'), 'token');
        for ($second = 0; $second < 60; $second += 4) {
            $this->guess($token, '{"username":"jette","password":"x"}');
            $clock->sleep(4);
        }
        $this->guess($token, json_encode(
            ['username' => 'jette', 'password' => DemoShop::USERS['jette'][2]], \JSON_THROW_ON_ERROR,
        ));
        self::assertSame(200, $this->browser->getResponse()->getStatusCode());
    }

    public function testGuessesCanNotFillTheLogNorTellItWhatWasTyped(): void
    {
        $token = $this->text($this->call('GET', '/api/session'), 'token');
        for ($n = 0; $n < 200; ++$n) {
            $this->guess($token, '{"username":"my secret word '.$n.'","password":"x"}');
        }
        $entries = self::getContainer()->get(EntityManagerInterface::class)->getRepository(LogEntry::class)->findAll();
        self::assertCount(SignInAttempts::OF_AN_ADDRESS + 1, $entries);
        foreach ($entries as $entry) {
            self::assertSame('?', $entry->by);
            self::assertStringNotContainsString('secret', (string) json_encode($entry->params));
        }
    }

    public function testASessionEndsWhenNobodyUsesItAndInAnyCase(): void
    {
        $clock = $this->clock();
        $this->signIn();
        $isIn = fn (): bool => null !== $this->value($this->call('GET', '/api/session'), 'user');
        $clock->sleep(SignIns::IDLE - 100);
        self::assertTrue($isIn());
        $clock->sleep(SignIns::IDLE - 100);
        self::assertTrue($isIn(), 'it was used in between');
        $clock->sleep(SignIns::IDLE + 100);
        self::assertFalse($isIn());

        $this->signIn();
        for ($at = 0; $at < SignIns::LONGEST; $at += 1_000) {
            self::assertTrue($isIn(), (string) $at);
            $clock->sleep(1_000);
        }
        self::assertFalse($isIn());
    }

    public function testNothingOfOneUsersSessionIsLeftForTheNext(): void
    {
        $this->signIn();
        $session = $this->browser->getRequest()->getSession();
        $session->set('something', 'of hers');
        $session->save();
        $this->signIn('orla');
        self::assertFalse($this->browser->getRequest()->getSession()->has('something'));
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
        self::assertContains('signed_in_from', array_column($entries, 'act'));
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

    public function testEachAnswerSaysInWhichLanguageItIs(): void
    {
        $this->signIn();
        foreach (['en', 'de'] as $language) {
            $this->call('PUT', '/api/session/language', ['language' => $language]);
            foreach (['/api/trays', '/api/trays/999'] as $path) {
                $this->browser->request('GET', $path);
                self::assertSame($language, $this->browser->getResponse()->headers->get('Content-Language'));
            }
        }
    }

    private function clock(): MockClock
    {
        $clock = new MockClock('2026-11-26 10:00:00', 'UTC');
        self::getContainer()->get(ClockInterface::class);
        Clock::set($clock);

        return $clock;
    }

    private function guess(string $token, string $body, string $address = '127.0.0.1'): void
    {
        $this->browser->request('POST', '/api/session', [], [], [
            'CONTENT_TYPE' => 'application/json', 'HTTP_X_GESCHENK_TOKEN' => $token, 'REMOTE_ADDR' => $address,
        ], $body);
    }

    /** @return array<array-key, mixed> */
    private function answered(): array
    {
        $data = json_decode((string) $this->browser->getResponse()->getContent(), true);

        return is_array($data) ? $data : [];
    }
}
