<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\DBAL\Connection;
use Geschenk\App\Uncover\Uncoverings;
use Geschenk\App\Work\Erasing;
use Geschenk\Tests\Support\Phones;
use Symfony\Component\Clock\Clock;
use Symfony\Component\Clock\MockClock;

/** An uncovering opens what the log names and nothing else, and ends by itself with its page; its end is in the log. */
final class UncoveringTest extends ApiTestCase
{
    public function testEachOpensWhatItNamesAndNothingElse(): void
    {
        [$n, $pictures] = $this->checked();
        $moves = "/api/trays/$n/moves/1";
        $chats = $this->backupPath($n);
        $one = (int) preg_replace('/\D/', '', (string) array_key_first($pictures));
        $routes = [
            'one conversation' => "$chats/conversations/$one/messages?uncovered=1",
            'another' => sprintf('%s/conversations/%d/messages?uncovered=1', $chats, 1 === $one ? 2 : 1),
            'all' => "$chats/across/kinds/links?uncovered=1", 'words' => "$chats/across/words",
            'eyes' => "$moves/eyes?uncovered=1&seed=5", 'other eyes' => "$moves/eyes?uncovered=1&seed=6",
            ...$pictures,
        ];
        $all = array_keys(array_filter($routes, static fn (string $key): bool => str_starts_with(
            $key, 'preview',
        ), \ARRAY_FILTER_USE_KEY));
        $opens = [
            "$chats/conversations/$one/uncovered" => ['one conversation', "preview of $one"],
            "$chats/across/uncovered" => ['all', 'words', ...$all],
            "$moves/eyes/uncovered?seed=5" => ['eyes', 'drawn gives', 'drawn receives'],
        ];
        self::assertSame([], $this->opened($routes));
        foreach ($opens as $path => $opened) {
            $this->call('PUT', $path);
            $found = $this->opened($routes);
            $meant = array_values(array_intersect(array_keys($routes), $opened));
            self::assertEqualsCanonicalizing($meant, $found, $path);
            $this->call('DELETE', $path);
            self::assertSame([], $this->opened($routes), $path);
        }
    }

    public function testItEndsAMinuteAfterItsPageIsGoneAndThatIsInTheLog(): void
    {
        [$n] = $this->checked();
        $clock = new MockClock('now', 'UTC');
        Clock::set($clock);
        $this->signIn('orla');
        $base = "{$this->backupPath($n)}/conversations/1";
        $lease = $this->text($this->call('PUT', "$base/uncovered"), 'lease');
        for ($minutes = 0; $minutes < 5; ++$minutes) {
            $clock->sleep(40);
            self::assertFalse($this->call('PUT', "/api/uncoverings/$lease")['covered'], 'The page is there still.');
            $clock->sleep(20);
            self::assertFalse($this->call('GET', "$base/messages?uncovered=1")['covered']);
        }
        // The tab is closed, the line lost, or the computer with it.
        $clock->sleep(Uncoverings::LEASE + 1);
        self::getContainer()->get(Uncoverings::class)->sweep();
        self::assertTrue($this->call('PUT', "/api/uncoverings/$lease")['covered']);
        self::assertTrue($this->call('GET', "$base/messages?uncovered=1")['covered']);
        $acts = array_column((array) $this->call('GET', '/api/log?kind=look')['entries'], 'act');
        self::assertSame(['uncovered', 'covered'], array_values(array_filter(
            array_reverse($acts), static fn (mixed $act): bool => in_array($act, ['uncovered', 'covered'], true),
        )));
        // Nobody else’s page keeps it, or ends it.
        $lease = $this->text($this->call('PUT', "$base/uncovered"), 'lease');
        $this->signIn('jette');
        self::assertTrue($this->call('PUT', "/api/uncoverings/$lease")['covered']);
        self::assertTrue($this->call('GET', "$base/messages?uncovered=1")['covered']);
    }

    public function testWhatTheLogSaysOfPeopleIsErasedWithTheTrayAndTheChainHolds(): void
    {
        [$n] = $this->checked();
        $this->signIn('orla');
        $this->call('PUT', "{$this->backupPath($n)}/conversations/1/uncovered");
        $connection = self::getContainer()->get(Connection::class);
        $title = $connection->fetchOne('SELECT text FROM log_name');
        self::assertIsString($title);
        self::assertStringContainsString($title, $this->log());
        $this->handOver($n);
        $this->call('POST', "/api/trays/$n/erase", ['number' => "$n"], 202);
        self::getContainer()->get(Erasing::class)->do($n);
        self::assertSame([], $connection->fetchAllAssociative('SELECT * FROM log_name'));
        self::assertStringContainsString('erased with the tray', $this->log());
        self::assertStringNotContainsString($title, json_encode($connection->fetchAllAssociative(
            'SELECT params FROM log_entry',
        ), \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE));
    }

    private function log(): string
    {
        return (string) json_encode($this->call('GET', '/api/log?kind=look'), \JSON_UNESCAPED_UNICODE);
    }

    /**
     * @param array<string, string> $routes
     *
     * @return list<string> those that show what was said or sent
     */
    private function opened(array $routes): array
    {
        $opened = [];
        foreach ($routes as $name => $path) {
            $isWords = 'words' === $name;
            $this->browser->request(
                $isWords ? 'POST' : 'GET', $path, [], [],
                ['HTTP_X_GESCHENK_TOKEN' => $this->token, ...($isWords ? ['CONTENT_TYPE' => 'application/json'] : [])],
                $isWords ? '{"words": "the"}' : null,
            );
            $response = $this->browser->getResponse();
            $told = json_decode((string) $response->getContent(), true);
            $isCovered = is_array($told) && true === ($told['covered'] ?? false);
            if (200 === $response->getStatusCode() && !$isCovered) {
                $opened[] = $name;
            }
        }

        return $opened;
    }

    /** @return array{int, array<string, string>} tray, and addresses of pictures by what they are of */
    private function checked(): array
    {
        $this->signIn();
        $this->layPhones();
        $this->giving = Phones::giving(dirname($this->giving->path), [], false, 200);
        $n = $this->openTray(laid: true);
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $moves = "/api/trays/$n/moves/1";
        $chats = $this->backupPath($n);
        $previews = [];
        // Not every photo has one.
        $this->call('PUT', "$chats/across/uncovered");
        foreach ((array) $this->call('GET', "$chats/across/kinds/photos")['messages'] as $one) {
            $id = $this->value((array) $one, 'conversation');
            $message = $this->value((array) $one, 'message', 'id');
            self::assertIsInt($id);
            self::assertIsInt($message);
            $this->browser->request('GET', "$chats/conversations/$id/previews/$message");
            if (200 === $this->browser->getResponse()->getStatusCode()) {
                $previews["preview of $id"] ??= "$chats/conversations/$id/previews/$message";
            }
        }
        $this->call('DELETE', "$chats/across/uncovered");
        self::assertGreaterThan(1, count($previews));
        $drawn = [];
        $left = $this->value($this->call('GET', "$moves/eyes?seed=5"), 'pictures');
        self::assertIsArray($left);
        foreach (['gives', 'receives'] as $side) {
            $one = (array) $this->value($left, 0, $side);
            self::assertIsInt($one['conversation']);
            self::assertIsInt($one['message']);
            $drawn["drawn $side"] = "$moves/eyes/pictures/$side/{$one['conversation']}/{$one['message']}";
        }
        // One that no seed of these has drawn.
        $drawn['not drawn'] = "$moves/eyes/pictures/gives/1/999999";

        return [$n, [...$previews, ...$drawn]];
    }
}
