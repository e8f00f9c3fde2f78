<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\App\DataFolder;
use Geschenk\App\Demo\DemoShop;
use Geschenk\App\Work\RunHandler;
use Geschenk\App\Work\WorkOnRun;
use Geschenk\Core\Files\Folder;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\Support\Contract;
use Geschenk\Tests\Support\Phones;
use Symfony\Bundle\FrameworkBundle\KernelBrowser;
use Symfony\Bundle\FrameworkBundle\Test\WebTestCase;
use Symfony\Component\Messenger\Envelope;
use Symfony\Component\Messenger\Transport\InMemory\InMemoryTransport;

/** A browser against the application; every answer of the API is held against docs/openapi.yaml. */
abstract class ApiTestCase extends WebTestCase
{
    protected KernelBrowser $browser;
    protected PhoneFolder $giving;
    protected PhoneFolder $receiving;
    private string $token = '';
    /** @var list<Envelope> */
    private array $left = [];

    protected function setUp(): void
    {
        $this->browser = self::createClient();
        $this->browser->disableReboot();
        self::getContainer()->get('cache.app')->clear();
        $data = self::getContainer()->get(DataFolder::class);
        foreach (['standin', 'backups', 'trays', 'holdings'] as $folder) {
            Folder::remove($data->path.'/'.$folder);
        }
        self::getContainer()->get(DemoShop::class)->users();
    }

    protected function signIn(string $name = 'jette', ?string $password = null): void
    {
        $this->token = $this->text($this->call('GET', '/api/session'), 'token');
        $session = $this->call('POST', '/api/session', ['username' => $name, 'password' => $password ?? DemoShop::USERS[$name][2]]);
        $this->token = $this->text($session, 'token');
    }

    protected function layPhones(): void
    {
        $folder = self::getContainer()->get(DataFolder::class)->phones();
        $this->giving = Phones::giving($folder);
        $this->receiving = Phones::receiving($folder);
    }

    /** @return int the number of a new tray with the two phones */
    protected function openTray(): int
    {
        $this->layPhones();
        $tray = $this->call('POST', '/api/trays', ['customer' => 'Test Person', 'contact' => 'the café', 'consent' => true, 'giving' => Phones::GIVING, 'receiving' => Phones::RECEIVING], 201);
        self::assertIsInt($tray['number']);

        return $tray['number'];
    }

    /**
     * @param array<string, mixed>|null $body
     *
     * @return array<array-key, mixed>
     */
    protected function call(string $method, string $path, ?array $body = null, int $status = 200, bool $withToken = true): array
    {
        $headers = [...(null === $body ? [] : ['CONTENT_TYPE' => 'application/json']), ...($withToken ? ['HTTP_X_GESCHENK_TOKEN' => $this->token] : [])];
        $this->browser->request($method, $path, [], [], $headers, null === $body ? null : json_encode($body, \JSON_THROW_ON_ERROR));
        $response = $this->browser->getResponse();
        $content = (string) $response->getContent();
        self::assertSame($status, $response->getStatusCode(), "$method $path: ".$content);
        Contract::assertHolds($method, $path, $status, (string) $response->headers->get('Content-Type'), $content);
        $data = json_decode($content, true, 64, \JSON_THROW_ON_ERROR);
        self::assertIsArray($data);

        return $data;
    }

    /** Does what a worker would: all runs that were asked for, one after the other. */
    protected function work(int $most = 5): void
    {
        $transport = self::getContainer()->get('messenger.transport.runs');
        self::assertInstanceOf(InMemoryTransport::class, $transport);
        $handler = self::getContainer()->get(RunHandler::class);
        // Each round takes what was sent since the last, without the pause that whoever waits for a phone asks for. The
        // transport forgets all with the next request, so what is left is kept here.
        $waiting = $this->left;
        $seen = 0;
        for ($round = 0; $round < $most; ++$round) {
            $waiting = [...$waiting, ...array_slice($transport->getSent(), $seen)];
            $seen = count($transport->getSent());
            foreach ($waiting as $envelope) {
                $message = $envelope->getMessage();
                self::assertInstanceOf(WorkOnRun::class, $message);
                $handler($message);
            }
            $waiting = [];
        }
        $this->left = array_values(array_slice($transport->getSent(), $seen));
    }

    /** @param array<string, mixed> $input */
    protected function askAndWork(int $tray, array $input): void
    {
        $this->call('POST', "/api/trays/$tray/runs", $input, 202);
        $this->work();
    }

    /** @param array<array-key, mixed> $from */
    protected function text(array $from, string ...$keys): string
    {
        $value = $this->value($from, ...$keys);
        self::assertIsString($value);

        return $value;
    }

    /** @param array<array-key, mixed> $from */
    protected function value(array $from, string|int ...$keys): mixed
    {
        $value = $from;
        foreach ($keys as $key) {
            self::assertIsArray($value);
            self::assertArrayHasKey($key, $value);
            $value = $value[$key];
        }

        return $value;
    }
}
